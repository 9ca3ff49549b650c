import { once } from 'node:events'
import type { Command, DatedEvent } from '@jaunty-sparrow/contract'
import type { QualityBits, Reading, SignalValue } from '@jaunty-sparrow/core/signal'
import { Ajv } from 'ajv'
import pg from 'pg'
import type { Logger } from 'pino'
import type { AlarmTest } from '../alarms/alarmTests.ts'
import type { RegistryChange } from '../devices/deviceRegistry.ts'
import type { Faults } from '../life/faults.ts'
import type { KeptMessage } from '../messages/keptMessage.ts'
import { restOr } from '../store/restOr.ts'
import { ArrivalNotices, type ArrivalsNotice } from './arrivalNotices.ts'

const channel = 'jaunty_sparrow'

/** What a notification may hold, bytes; PostgreSQL takes 7,999. */
const largestNotice = 7000

/** What a reading that is a number takes at most. */
const bytesOfNumber = 98

const retryAfter = 1000

interface ReadingsNotice {
  readonly kind: 'readings'
  /** Signal, measured at, received at, value, quality. */
  readonly readings: readonly (readonly [number, number, number, SignalValue, QualityBits])[]
  /** Whether a person brought them, from the past. */
  readonly byHand: boolean
}

interface EventNotice {
  readonly kind: 'event'
  readonly event: DatedEvent
}

interface AlarmTestNotice {
  readonly kind: 'alarm-test'
  readonly test: AlarmTest
}

interface CommandsNotice {
  readonly kind: 'commands'
  readonly commands: readonly Command[]
}

/** What servers on one database tell each other. */
export type Notice =
  | { readonly kind: 'hello' | 'here' }
  | RegistryChange
  | { readonly kind: 'sites' | 'dashboards' | 'rules' | 'alarms' | 'notices' }
  /** Readings were removed or put back: what is the latest has to be read. */
  | { readonly kind: 'reread' }
  /** Which serial lines there are, and whose, has changed. */
  | { readonly kind: 'serial' }
  /** Who may do what has changed. */
  | { readonly kind: 'access' }
  | ReadingsNotice
  | ArrivalsNotice
  | EventNotice
  | CommandsNotice
  | AlarmTestNotice

const number = { type: 'number' }
const reading = {
  type: 'array',
  items: [
    number,
    number,
    number,
    { anyOf: [{ type: 'number' }, { type: 'string' }, { type: 'object' }] },
    number,
  ],
  minItems: 5,
  maxItems: 5,
  additionalItems: false,
}

/** What else a notice of each kind holds. */
const members: Record<Notice['kind'], Record<string, object>> = {
  hello: {},
  here: {},
  loaded: { kitId: { type: ['integer', 'null'] } },
  forgotten: { address: { type: 'string' } },
  sites: {},
  dashboards: {},
  rules: {},
  alarms: {},
  notices: {},
  reread: {},
  serial: {},
  access: {},
  readings: { readings: { type: 'array', items: reading }, byHand: { type: 'boolean' } },
  event: { event: { type: 'object' } },
  commands: { commands: { type: 'array', items: { type: 'object' } } },
  'alarm-test': {
    test: {
      type: 'object',
      required: ['of', 'id'],
      properties: { of: { enum: ['board', 'walls'] }, id: { type: 'integer' } },
    },
  },
  arrivals: { arrivals: { type: 'array', items: { type: 'object' } }, skipped: { type: 'integer' } },
}

/** Anybody who may write to the database may say anything on the channel. */
const isNotice = new Ajv().compile<Notice & { from: number }>({
  oneOf: Object.entries(members).map(([kind, more]) => ({
    type: 'object',
    required: ['from', 'kind', ...Object.keys(more)],
    properties: { from: { type: 'integer' }, kind: { const: kind }, ...more },
  })),
})

export interface PeersParts {
  readonly url: string
  readonly pool: pg.Pool
  /** The number of this server just now; throws while it has none. */
  readonly number: () => number
  readonly log: Logger
  readonly faults: Faults
  /** Told of what other servers say. */
  readonly heard: (notice: Notice) => void
  /** Told whenever the line is up: what was said before that has to be read. Awaited before the server has joined. */
  readonly listening: () => Promise<void>
}

interface Line {
  readonly client: pg.Client
  /** Why the line ended, where it was not we who ended it. */
  readonly ended: Promise<Error | undefined>
}

/** A connection that breaks may say so more than once, and says last that it ended. */
function endOf(client: pg.Client): Promise<Error | undefined> {
  let reason: Error | undefined
  client.on('error', (error) => {
    reason ??= error
  })
  return new Promise((resolve) => client.once('end', () => resolve(reason)))
}

/**
 * The other servers on this database. Pages of one server see what another has stored, and devices made on one are known to
 * all. Of what comes often, nothing is said as long as there is no other server.
 */
export class Peers {
  readonly #parts: PeersParts
  readonly #closing = new AbortController()
  readonly #left = once(this.#closing.signal, 'abort')
  #staying: Promise<void> | undefined
  readonly #arrivals = new ArrivalNotices(largestNotice - 100, (notice) => this.tell(notice))
  #hasPeers = false

  private constructor(parts: PeersParts) {
    this.#parts = parts
  }

  static async join(parts: PeersParts): Promise<Peers> {
    const peers = new Peers(parts)
    peers.#staying = peers.#stayOn(await peers.#listen())
    return peers
  }

  async close(): Promise<void> {
    this.#closing.abort()
    this.#arrivals.close()
    await this.#staying
  }

  /** Tells the others, if there are any. */
  tellReadings(readings: readonly Reading[], byHand: boolean): void {
    if (!this.#hasPeers) return
    let gathered: ReadingsNotice['readings'][number][] = []
    let length = 0
    const flush = () => {
      if (gathered.length > 0) this.tell({ kind: 'readings', byHand, readings: gathered })
      gathered = []
      length = 0
    }
    for (const { signal, at, receivedAt, value, quality } of readings) {
      const told = [signal, at, receivedAt, value, quality] as const
      // A text may take far more than a number.
      const bytes = typeof value === 'number' ? bytesOfNumber : Buffer.byteLength(JSON.stringify(told)) + 1
      if (length + bytes > largestNotice - 100) flush()
      gathered.push(told)
      length += bytes
    }
    flush()
  }

  /** Tells the others, if there are any, of messages; of so many that it costs little. */
  tellArrival(message: KeptMessage): void {
    if (this.#hasPeers) this.#arrivals.add(message)
  }

  /** Tells the others, known or not: one of them may just have begun to listen. That it cannot be told is no reason to fail. */
  tell(notice: Notice): void {
    let text: string
    try {
      text = JSON.stringify({ from: this.#parts.number(), ...notice })
    } catch (error) {
      this.#parts.log.warn({ err: error }, 'the other servers could not be told')
      return
    }
    if (Buffer.byteLength(text) > largestNotice) {
      this.#parts.log.warn({ kind: notice.kind }, 'a notice to the other servers is too long')
      return
    }
    this.#parts.pool.query('select pg_notify($1, $2)', [channel, text]).catch((error: unknown) => {
      this.#parts.log.warn({ err: error }, 'the other servers could not be told')
    })
  }

  async #listen(): Promise<Line> {
    const client = new pg.Client({
      connectionString: this.#parts.url,
      application_name: 'jaunty-sparrow peers',
    })
    const line = { client, ended: endOf(client) }
    client.on(
      'notification',
      this.#parts.faults.guard('a notice of another server', ({ payload = '' }: pg.Notification) =>
        this.#hear(payload),
      ),
    )
    try {
      await client.connect()
      await client.query(`listen ${channel}`)
      await this.#parts.listening()
    } catch (error) {
      await client.end()
      throw error
    }
    this.tell({ kind: 'hello' })
    return line
  }

  /** Takes up the line again whenever it breaks, until this server leaves. */
  async #stayOn(first: Line): Promise<void> {
    let line: Line | undefined = first
    while (line) {
      const reason = await Promise.race([line.ended, this.#left])
      if (this.#isClosed) {
        await line.client.end()
        return
      }
      this.#parts.log.warn({ err: reason }, 'the line to the other servers broke')
      line = await this.#listenAgain()
    }
  }

  async #listenAgain(): Promise<Line | undefined> {
    while (!this.#isClosed) {
      await restOr(this.#closing.signal, retryAfter)
      if (this.#isClosed) break
      try {
        return await this.#listen()
      } catch (error) {
        this.#parts.log.debug({ err: error }, 'the line to the other servers is still broken')
      }
    }
    return undefined
  }

  get #isClosed(): boolean {
    return this.#closing.signal.aborted
  }

  #hear(payload: string): void {
    let notice: unknown
    try {
      notice = JSON.parse(payload)
    } catch {
      notice = undefined
    }
    if (!isNotice(notice)) {
      this.#parts.log.warn({ payload: payload.slice(0, 100) }, 'a notice that no server of ours would send')
      return
    }
    const { from, ...said } = notice
    if (from === this.#parts.number()) return
    // Whoever says hello does not know yet that somebody is here.
    if (said.kind === 'hello') this.tell({ kind: 'here' })
    this.#hasPeers = true
    this.#parts.heard(said as Notice)
  }
}

export const readingsOf = ({ readings }: ReadingsNotice): Reading[] =>
  readings.map(([signal, at, receivedAt, value, quality]) => ({ signal, at, receivedAt, value, quality }))
