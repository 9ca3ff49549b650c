import type { IncomingMessage } from 'node:http'
import type { Logger } from 'pino'
import type { Config } from '../config.ts'
import { AllowedHosts } from '../http/allowedHosts.ts'
import { isPlainFromElsewhere } from '../http/plainFromElsewhere.ts'
import { requestAddress } from '../http/requestAddress.ts'
import type { Opened } from '../life/opened.ts'
import { authorityCertificate, certificateFiles } from './certificateFiles.ts'
import { Certificates } from './certificates.ts'
import { ReachedAt } from './reach.ts'

interface OpenReachParts {
  readonly config: Config
  readonly opened: Opened
  readonly now: () => number
  readonly log: Logger
}

/** How the server is reached: by which addresses and names, with which certificate, and from where. */
export function openReach({ config, opened, now, log }: OpenReachParts) {
  const { publicUrl, deviceUrl, allowedHosts, plainSecrets, trustProxy, tlsCert } = config
  const ipOf = requestAddress(trustProxy)
  const files = certificateFiles(config)
  const certificates = files && opened.add(new Certificates(files, log), (it) => it.close())
  const stated = [publicUrl, deviceUrl].flatMap((url) => (url ? new URL(url).hostname : []))
  return {
    /** Where a request comes from, by what trusted proxies say. */
    ipOf,
    certificates,
    reach: new ReachedAt({ config, certificates, now }),
    hosts: new AllowedHosts([...allowedHosts, ...stated], () => certificates?.names ?? []),
    /** Whether a request may not bring secrets: it came without TLS where that is forbidden. */
    isForbidden: (request: IncomingMessage) => !plainSecrets && isPlainFromElsewhere(request, ipOf(request)),
    /** File of the certificate that phones import; undefined where there is no local authority. */
    authorityCertificate: authorityCertificate(config),
    /** Whether browsers may be told to come by TLS only: the certificate is one that lasts. */
    isStrict: tlsCert !== undefined,
  }
}
