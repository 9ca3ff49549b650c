import { existsSync } from 'node:fs'
import { join, resolve } from 'node:path'
import type { Config } from '../config.ts'
import type { CertificateFiles } from './certificates.ts'

type Stated = Pick<Config, 'tlsCert' | 'tlsKey' | 'authorityFolder'>

/** The certificate that was stated, else what the local authority has signed; undefined where there is neither. */
export function certificateFiles({ tlsCert, tlsKey, authorityFolder }: Stated): CertificateFiles | undefined {
  if (tlsCert !== undefined && tlsKey !== undefined) return { cert: tlsCert, key: tlsKey }
  if (authorityFolder === undefined || !existsSync(join(authorityFolder, 'server.crt'))) return undefined
  return { cert: join(authorityFolder, 'server.crt'), key: join(authorityFolder, 'server.key') }
}

/** What phones import and boards pin, so that they trust what the local authority signed; undefined where there is none. */
export function authorityCertificate({ tlsCert, authorityFolder }: Stated): string | undefined {
  if (tlsCert !== undefined || authorityFolder === undefined) return undefined
  const file = resolve(authorityFolder, 'authority.crt')
  return existsSync(file) ? file : undefined
}
