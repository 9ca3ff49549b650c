import { networkInterfaces } from 'node:os'
import type { Reach } from '@jaunty-sparrow/contract'
import { isLoopback, originOf, reachableAddresses } from '@jaunty-sparrow/core/reach'
import type { Config } from '../config.ts'
import type { Certificates } from './certificates.ts'

/** The ports it listens on, as far as it does. */
export interface Ports {
  readonly http: number
  readonly https: number | undefined
  readonly mqtt: number | undefined
  readonly mqttTls: number | undefined
  readonly coap: number | undefined
}

interface ReachParts {
  readonly config: Pick<Config, 'host' | 'publicUrl' | 'deviceUrl' | 'plainSecrets' | 'tlsCert'>
  readonly certificates: Certificates | undefined
  readonly now: () => number
}

/** The one place that knows by which addresses boards and people reach the server. */
export class ReachedAt {
  readonly #parts: ReachParts
  #ports: Ports = { http: 0, https: undefined, mqtt: undefined, mqttTls: undefined, coap: undefined }
  #elsewhereAt: number | null = null

  constructor(parts: ReachParts) {
    this.#parts = parts
  }

  /** To be told when it listens. */
  listensAt(ports: Ports): void {
    this.#ports = ports
  }

  /** Somebody reached it. @param ip where from */
  reachedFrom(ip: string): void {
    if (ip !== '' && !isLoopback(ip)) this.#elsewhereAt = this.#parts.now()
  }

  told(): Reach {
    const { config, certificates } = this.#parts
    const { host, publicUrl, deviceUrl, plainSecrets } = config
    const { http, https, mqtt, mqttTls, coap } = this.#ports
    const addresses = reachableAddresses(host, networkInterfaces())
    const own = addresses.length > 0 ? addresses : [isLoopback(host) ? host : '127.0.0.1']
    const origins = own.map((address) =>
      https === undefined ? originOf('http', address, http) : originOf('https', address, https),
    )
    const people = publicUrl ?? origins[0] ?? ''
    // A small board speaks plain HTTP more easily; where that is forbidden it is not offered.
    const plain = plainSecrets || https === undefined ? originOf('http', own[0] ?? host, http) : origins[0]
    const devices = deviceUrl ?? publicUrl ?? plain ?? ''
    return {
      people: {
        url: people,
        isStated: publicUrl !== undefined,
        others: origins.filter((origin) => origin !== people),
      },
      devices: {
        url: devices,
        isStated: deviceUrl !== undefined || publicUrl !== undefined,
        host: new URL(devices).hostname,
        mqttPort: mqtt ?? null,
        mqttTlsPort: mqttTls ?? null,
        coapPort: coap ?? null,
      },
      isLocalOnly: addresses.length === 0 && publicUrl === undefined && deviceUrl === undefined,
      elsewhereAt: this.#elsewhereAt,
      tls: certificates ? tellCertificate(certificates, config.tlsCert === undefined) : null,
      plainSecrets,
    }
  }
}

const tellCertificate = ({ leaf }: Certificates, isLocalAuthority: boolean): NonNullable<Reach['tls']> => ({
  isLocalAuthority,
  validUntil: Date.parse(leaf.validTo),
  fingerprint: leaf.fingerprint256,
})
