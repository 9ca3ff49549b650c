import {
  type Arrival,
  arrivalsPerFrame,
  type LiveFrame,
  type LiveReading,
  readingsPerFrame,
} from '@jaunty-sparrow/contract'
import type { Reading } from '@jaunty-sparrow/core'
import { arrivalOf, type KeptMessage } from '../arrivals/keptMessage.ts'
import type { Origin } from '../ingest/deviceRegistry.ts'

/** Where frames go: a WebSocket, or anything that behaves like one. */
export interface FrameSink {
  /** Bytes that were handed over and are not on the wire yet. */
  readonly backlog: () => number
  readonly send: (frame: string) => void
}

/** A page gets at most four frames a second; this is the rest between two of them, ms. */
const frameInterval = 250

/** A client that is this far behind gets no more until it has caught up. */
const slowClientBytes = 64 * 1024

interface Pending {
  readings: LiveReading[]
  skipped: number
}

/** One page that looks at signals. What waits for it is bounded by what it subscribed to, however slow it is. */
export class LiveClient {
  readonly #sink: FrameSink
  readonly #subscribed = new Set<number>()
  readonly #pending = new Map<number, Pending>()
  readonly #changed = new Set<'devices' | 'sites'>()
  #flushedAt = Number.NEGATIVE_INFINITY
  #seesArrivals = false
  #arrivals: Arrival[] = []
  #skippedArrivals = 0

  constructor(sink: FrameSink) {
    this.#sink = sink
  }

  get subscriptions(): ReadonlySet<number> {
    return this.#subscribed
  }

  /** @param now epoch ms, told to the page so that it can tell ages */
  subscribe(signals: readonly number[], latest: (signal: number) => Reading | undefined, now: number): void {
    for (const signal of signals) this.#subscribed.add(signal)
    const known = signals.flatMap((signal) => latest(signal) ?? [])
    this.#send({
      kind: 'snapshot',
      now,
      signals: known.map((reading) => ({
        signal: reading.signal,
        readings: [onTheWire(reading)],
        skipped: 0,
      })),
    })
  }

  unsubscribe(signals: readonly number[]): void {
    for (const signal of signals) {
      this.#subscribed.delete(signal)
      this.#pending.delete(signal)
    }
  }

  add(reading: Reading): void {
    if (!this.#subscribed.has(reading.signal)) return
    const pending = this.#pending.get(reading.signal) ?? { readings: [], skipped: 0 }
    this.#pending.set(reading.signal, pending)
    pending.readings.push(onTheWire(reading))
    if (pending.readings.length > readingsPerFrame) {
      pending.readings.shift()
      pending.skipped++
    }
  }

  /** Whether this page wants to hear of messages as they come in. */
  watchArrivals(wanted: boolean): void {
    this.#seesArrivals = wanted
    this.#arrivals = []
    this.#skippedArrivals = 0
  }

  get seesArrivals(): boolean {
    return this.#seesArrivals
  }

  /** @param skipped how many more there were that nobody can be told of one by one */
  arrived(arrivals: readonly Arrival[], skipped: number): void {
    if (!this.#seesArrivals) return
    const room = arrivalsPerFrame - this.#arrivals.length
    this.#arrivals.push(...arrivals.slice(0, room))
    this.#skippedArrivals += Math.max(0, arrivals.length - room) + skipped
  }

  changed(what: 'devices' | 'sites'): void {
    this.#changed.add(what)
  }

  /**
   * Sends what has gathered, unless the last frame was just now or the client is behind; then it keeps gathering, within
   * bounds.
   * @param now ms by a clock that only runs forward
   */
  flush(now: number): void {
    if (this.#pending.size === 0 && this.#changed.size === 0 && this.#arrivals.length === 0) return
    if (now - this.#flushedAt < frameInterval || this.#sink.backlog() > slowClientBytes) return
    this.#flushedAt = now
    for (const what of this.#changed) this.#send({ kind: 'changed', what })
    this.#changed.clear()
    if (this.#arrivals.length > 0) {
      this.#send({ kind: 'arrivals', arrivals: this.#arrivals, skipped: this.#skippedArrivals })
      this.#arrivals = []
      this.#skippedArrivals = 0
    }
    if (this.#pending.size === 0) return
    const signals = [...this.#pending].map(([signal, { readings, skipped }]) => ({
      signal,
      readings,
      skipped,
    }))
    this.#pending.clear()
    this.#send({ kind: 'readings', signals })
  }

  #send(frame: LiveFrame): void {
    this.#sink.send(JSON.stringify(frame))
  }
}

const onTheWire = ({ at, receivedAt, value, quality }: Reading): LiveReading => [
  at,
  receivedAt,
  value,
  quality,
]

/** What a server tells the others on the same database. */
type News =
  | { readonly kind: 'readings'; readonly readings: readonly Reading[] }
  | { readonly kind: 'arrived'; readonly message: KeptMessage }
  | { readonly kind: 'sites' }

/** Knows the latest reading of every signal, and tells the pages that look at it. */
export class LiveHub {
  readonly #latest = new Map<number, Reading>()
  readonly #clients = new Set<LiveClient>()
  readonly #newsListeners: ((news: News) => void)[] = []
  readonly #clock: () => number

  /** @param clock ms, only running forward */
  constructor(clock: () => number) {
    this.#clock = clock
  }

  latest = (signal: number): Reading | undefined => this.#latest.get(signal)

  /** Takes readings into account as the latest without telling anyone: at the start, out of the store. */
  load(readings: readonly Reading[]): void {
    for (const reading of readings) this.#keepLatest(reading)
  }

  forget(signals: Iterable<number>): void {
    for (const signal of signals) this.#latest.delete(signal)
  }

  /** Calls back with what other servers on the same database have to hear of. */
  onNews(listener: (news: News) => void): void {
    this.#newsListeners.push(listener)
  }

  readings(readings: readonly Reading[], from: Origin = 'here'): void {
    this.#tell({ kind: 'readings', readings }, from)
    for (const reading of readings) {
      this.#keepLatest(reading)
      for (const client of this.#clients) client.add(reading)
    }
    // A page that has rested hears at once; the others when their rest is over.
    this.flush()
  }

  arrived(message: KeptMessage): void {
    this.#tell({ kind: 'arrived', message }, 'here')
    for (const client of this.#clients) if (client.seesArrivals) client.arrived([arrivalOf(message)], 0)
  }

  /** What another server took in, as far as it was told. */
  arrivedElsewhere(arrivals: readonly Arrival[], skipped: number): void {
    for (const client of this.#clients) client.arrived(arrivals, skipped)
  }

  devicesChanged(): void {
    for (const client of this.#clients) client.changed('devices')
  }

  sitesChanged(from: Origin = 'here'): void {
    this.#tell({ kind: 'sites' }, from)
    for (const client of this.#clients) client.changed('sites')
  }

  join(client: LiveClient): void {
    this.#clients.add(client)
  }

  leave(client: LiveClient): void {
    this.#clients.delete(client)
  }

  flush(): void {
    const now = this.#clock()
    for (const client of this.#clients) client.flush(now)
  }

  #tell(news: News, from: Origin): void {
    if (from === 'here') for (const listener of this.#newsListeners) listener(news)
  }

  #keepLatest(reading: Reading): void {
    const known = this.#latest.get(reading.signal)
    if (!known || reading.at >= known.at) this.#latest.set(reading.signal, reading)
  }
}
