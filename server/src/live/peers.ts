import type { Quality, Reading } from '@jaunty-sparrow/core'
import chunk from 'lodash-es/chunk.js'
import pg from 'pg'
import type { Logger } from 'pino'
import type { RegistryChange } from '../ingest/deviceRegistry.ts'
import { restOr } from '../store/restOr.ts'

const channel = 'jaunty_sparrow'

/** What a notification may hold, bytes; PostgreSQL takes 7,999. */
const largestNotice = 7000

/** So many fit, whatever their numbers. */
const readingsPerNotice = 70

const retryAfter = 1000

interface ReadingsNotice {
  readonly kind: 'readings'
  /** Signal, measured at, received at, value, quality. */
  readonly readings: readonly (readonly [number, number, number, number, Quality])[]
}

/** What servers on one database tell each other. */
export type Notice =
  | { readonly kind: 'hello' | 'here' }
  | RegistryChange
  | { readonly kind: 'sites' }
  | ReadingsNotice

interface PeersParts {
  readonly url: string
  readonly pool: pg.Pool
  readonly number: number
  readonly log: Logger
  /** Told of what other servers say. */
  readonly heard: (notice: Notice) => void
  /** Told when something may have been missed. */
  readonly missed: () => void
}

/**
 * The other servers on this database. Pages of one server see what another has stored, and devices made on one are known to
 * all. As long as there is no other server, nothing is said but hello.
 */
export class Peers {
  readonly #parts: PeersParts
  #client: pg.Client | undefined
  readonly #closing = new AbortController()
  #retrying: Promise<void> | undefined
  #hasPeers = false

  private constructor(parts: PeersParts) {
    this.#parts = parts
  }

  static async join(parts: PeersParts): Promise<Peers> {
    const peers = new Peers(parts)
    await peers.#listen()
    return peers
  }

  async close(): Promise<void> {
    this.#closing.abort()
    await this.#retrying
    await this.#client?.end()
  }

  /** Tells the others, if there are any; that it could not be told is no reason to fail. */
  tell(notice: Notice): void {
    if (this.#hasPeers) this.#say(notice)
  }

  tellReadings(readings: readonly Reading[]): void {
    if (!this.#hasPeers) return
    for (const some of chunk(readings, readingsPerNotice)) {
      this.#say({
        kind: 'readings',
        readings: some.map(({ signal, at, receivedAt, value, quality }) => [
          signal,
          at,
          receivedAt,
          value,
          quality,
        ]),
      })
    }
  }

  #say(notice: Notice): void {
    const text = JSON.stringify({ from: this.#parts.number, ...notice })
    if (text.length > largestNotice) {
      this.#parts.log.warn({ kind: notice.kind }, 'a notice to the other servers is too long')
      return
    }
    this.#parts.pool.query('select pg_notify($1, $2)', [channel, text]).catch((error: unknown) => {
      this.#parts.log.warn({ err: error }, 'the other servers could not be told')
    })
  }

  async #listen(): Promise<void> {
    const client = new pg.Client({
      connectionString: this.#parts.url,
      application_name: 'jaunty-sparrow peers',
    })
    client.on('notification', ({ payload = '' }) => this.#hear(payload))
    client.on('error', (error) => {
      // A connection that breaks says so more than once.
      if (this.#isClosed || this.#client !== client) return
      this.#client = undefined
      this.#parts.log.warn({ err: error }, 'the line to the other servers broke')
      this.#retrying = this.#listenAgain()
    })
    await client.connect()
    await client.query(`listen ${channel}`)
    this.#client = client
    if (this.#isClosed) return
    this.#say({ kind: 'hello' })
  }

  async #listenAgain(): Promise<void> {
    while (!this.#isClosed) {
      await restOr(this.#closing.signal, retryAfter)
      if (this.#isClosed) return
      try {
        await this.#listen()
        this.#parts.missed()
        return
      } catch (error) {
        this.#parts.log.debug({ err: error }, 'the line to the other servers is still broken')
      }
    }
  }

  get #isClosed(): boolean {
    return this.#closing.signal.aborted
  }

  #hear(payload: string): void {
    const { from, ...notice } = JSON.parse(payload) as Notice & { from: number }
    if (from === this.#parts.number) return
    // Whoever says hello does not know yet that somebody is here.
    if (notice.kind === 'hello') this.#say({ kind: 'here' })
    this.#hasPeers = true
    this.#parts.heard(notice)
  }
}

export const readingsOf = ({ readings }: ReadingsNotice): Reading[] =>
  readings.map(([signal, at, receivedAt, value, quality]) => ({ signal, at, receivedAt, value, quality }))
