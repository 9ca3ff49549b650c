import {
  type Arrival,
  arrivalsPerFrame,
  type Changed,
  type Command,
  type DatedEvent,
  type DevicePresence,
  type LiveFrame,
  type LiveReading,
  liveVersion,
  readingsPerFrame,
} from '@jaunty-sparrow/contract'
import type { Reading } from '@jaunty-sparrow/core/signal'
import type { Sight } from './sight.ts'

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

/** Of so many events at once the page asks again instead. */
const mostEvents = 50

interface Pending {
  readings: LiveReading[]
  skipped: number
}

// A frame without its version, which all have.
type Said = LiveFrame extends infer F ? (F extends LiveFrame ? Omit<F, 'v'> : never) : never

/** One page that looks at signals. What waits for it is bounded by what it subscribed to, however slow it is. */
export class LiveClient {
  readonly #sink: FrameSink
  readonly #subscribed = new Set<number>()
  readonly #readings = new Map<number, Pending>()
  readonly #presence = new Map<number, DevicePresence>()
  readonly #changed = new Map<string, Changed>()
  readonly #commands = new Map<number, Command>()
  #events: DatedEvent[] = []
  #arrivals: Arrival[] = []
  #skippedArrivals = 0
  #flushedAt = Number.NEGATIVE_INFINITY
  #isWaiting = false
  seesArrivals = false
  seesPresence = false
  #looking: { device: number; people: number; strangers: number } | undefined

  /** @param sight what it may hear of; everything else passes it by */
  constructor(
    sink: FrameSink,
    readonly sight: Sight,
  ) {
    this.#sink = sink
  }

  get subscriptions(): ReadonlySet<number> {
    return this.#subscribed
  }

  /** @param now epoch ms, told to the page so that it can tell ages */
  subscribe(signals: readonly number[], latest: readonly Reading[], now: number): void {
    for (const signal of signals) this.#subscribed.add(signal)
    this.#send({
      kind: 'snapshot',
      now,
      signals: latest.map((reading) => ({
        signal: reading.signal,
        readings: [onTheWire(reading)],
        skipped: 0,
      })),
    })
  }

  unsubscribe(signals: readonly number[]): void {
    for (const signal of signals) {
      this.#subscribed.delete(signal)
      this.#readings.delete(signal)
    }
  }

  /** Tells the page what was wrong with what it said. */
  tellProblem(problem: 'full' | 'not-understood', says: string, left = 0): void {
    this.#send({ kind: 'problem', problem, says, left })
  }

  /** Adds a reading of a signal that it subscribed to. */
  add(reading: Reading): void {
    this.#isWaiting = true
    const pending = this.#readings.get(reading.signal) ?? { readings: [], skipped: 0 }
    this.#readings.set(reading.signal, pending)
    pending.readings.push(onTheWire(reading))
    if (pending.readings.length > readingsPerFrame) {
      pending.readings.shift()
      pending.skipped++
    }
  }

  /** Whether this page wants to hear of messages as they come in. */
  watchArrivals(wanted: boolean): void {
    this.seesArrivals = wanted
    this.#arrivals = []
    this.#skippedArrivals = 0
  }

  /** Begins to tell how devices do, or ceases to. @param all how each does now */
  watchPresence(wanted: boolean, all: () => readonly DevicePresence[]): void {
    this.seesPresence = wanted
    this.#presence.clear()
    if (wanted) this.presences(all())
  }

  /** @param skipped how many more there were that nobody can be told of one by one */
  arrived(arrivals: readonly Arrival[], skipped: number): void {
    if (!this.seesArrivals) return
    const { sight } = this
    const seen = arrivals.filter(({ deviceId }) =>
      deviceId === null ? sight.strangers : sight.device(deviceId),
    )
    // Of those that are only counted nobody knows whose they were.
    const uncounted = sight.strangers ? skipped : 0
    if (seen.length + uncounted === 0) return
    this.#isWaiting = true
    const room = arrivalsPerFrame - this.#arrivals.length
    this.#arrivals.push(...seen.slice(0, room))
    this.#skippedArrivals += Math.max(0, seen.length - room) + uncounted
  }

  /** How devices do now; of one that waits already the newest is told of each signal. */
  presences(devices: readonly DevicePresence[]): void {
    if (!this.seesPresence) return
    this.#isWaiting = true
    for (const device of devices) {
      if (!this.sight.device(device.device)) continue
      const before = this.#presence.get(device.device)
      const signals = before ? [...new Map([...before.signals, ...device.signals])] : device.signals
      this.#presence.set(device.device, { ...device, signals })
    }
  }

  /** How many look at the same page. */
  looking(how: { device: number; people: number; strangers: number }): void {
    this.#isWaiting = true
    this.#looking = how
  }

  event(event: DatedEvent): void {
    if (!this.sight.event(event)) return
    this.#isWaiting = true
    if (this.#events.length < mostEvents) this.#events.push(event)
  }

  /** Goes out at once, with what waits: who presses a switch looks at it, and a confirmation does not come before its value. */
  commands(commands: readonly Command[]): void {
    const seen = commands.filter(({ deviceId }) => this.sight.device(deviceId))
    if (seen.length === 0) return
    if (this.#sink.backlog() <= slowClientBytes) {
      this.#sendAll()
      this.#send({ kind: 'commands', commands: seen })
      return
    }
    // Of each signal the last one waits for who is behind: there are no more than signals.
    this.#isWaiting = true
    for (const command of seen) this.#commands.set(command.signalId, command)
  }

  changed(change: Changed): void {
    // The address of what one may not see is not told; that something is otherwise is.
    const isHidden = change.what === 'device' && !this.sight.address(change.address)
    const told: Changed = isHidden ? { what: 'devices' } : change
    this.#isWaiting = true
    this.#changed.set(JSON.stringify(told), told)
  }

  /**
   * Sends what has gathered, unless the last frame was just now or the client is behind; then it keeps gathering, within
   * bounds.
   * @param now ms by a clock that only runs forward
   */
  flush(now: number): void {
    if (!this.#isWaiting || now - this.#flushedAt < frameInterval || this.#sink.backlog() > slowClientBytes)
      return
    this.#flushedAt = now
    this.#sendAll()
  }

  #sendAll(): void {
    this.#isWaiting = false
    if (this.#changed.size > 0) this.#send({ kind: 'changed', changes: [...this.#changed.values()] })
    this.#changed.clear()
    for (const event of this.#events) this.#send({ kind: 'event', event })
    this.#events = []
    if (this.#looking) this.#send({ kind: 'looking', ...this.#looking })
    this.#looking = undefined
    if (this.#presence.size > 0) this.#send({ kind: 'presence', devices: [...this.#presence.values()] })
    this.#presence.clear()
    if (this.#arrivals.length > 0 || this.#skippedArrivals > 0)
      this.#send({ kind: 'arrivals', arrivals: this.#arrivals, skipped: this.#skippedArrivals })
    this.#arrivals = []
    this.#skippedArrivals = 0
    if (this.#readings.size > 0) this.#sendReadings()
    if (this.#commands.size > 0) this.#send({ kind: 'commands', commands: [...this.#commands.values()] })
    this.#commands.clear()
  }

  #sendReadings(): void {
    const signals = [...this.#readings].map(([signal, { readings, skipped }]) => ({
      signal,
      readings,
      skipped,
    }))
    this.#readings.clear()
    this.#send({ kind: 'readings', signals })
  }

  #send(frame: Said): void {
    this.#sink.send(JSON.stringify({ v: liveVersion, ...frame }))
  }
}

const onTheWire = ({ at, receivedAt, value, quality }: Reading): LiveReading => [
  at,
  receivedAt,
  value,
  quality,
]
