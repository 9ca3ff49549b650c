import type { IncomingMessage } from 'node:http'
import { isIP } from 'node:net'
import { hostname } from 'node:os'

/**
 * Under which names the pages may be asked for: addresses, localhost, the machine's own names, and those that were stated. A
 * page elsewhere that has its own name point here (DNS rebinding) would else pass for one of ours.
 */
export class AllowedHosts {
  readonly #names: ReadonlySet<string>
  readonly #certified: () => readonly string[]

  /**
   * @param stated further names
   * @param certified those that the certificate of the server holds for just now
   */
  constructor(stated: readonly string[], certified: () => readonly string[] = () => []) {
    this.#certified = certified
    const own = hostname().toLowerCase()
    const [short = own] = own.split('.')
    this.#names = new Set([
      'localhost',
      own,
      short,
      `${short}.local`,
      ...stated.map((name) => name.toLowerCase()),
    ])
  }

  allows({ headers: { host = '' } }: Pick<IncomingMessage, 'headers'>): boolean {
    const name = host
      .toLowerCase()
      .replace(/:\d{1,5}$/, '')
      .replace(/^\[(.*)\]$/, '$1')
      .replace(/\.$/, '')
    return isIP(name) !== 0 || this.#names.has(name) || this.#certified().includes(name)
  }
}
