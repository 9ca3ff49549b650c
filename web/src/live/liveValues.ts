import type { DevicePresence, LatestReading, LiveFrame } from '@jaunty-sparrow/contract'
import type { Presence } from '@jaunty-sparrow/core/presence'
import { sameValue } from '@jaunty-sparrow/core/signal'

/** Later than it came in by this, ms, no reading is that was stamped by a clock that is right. */
const aheadBy = 10 * 60_000

/** The latest reading of a signal, and a state that came and went since the one before it. */
export interface LiveValue extends LatestReading {
  readonly passed?: { readonly value: LatestReading['value']; readonly at: number }
}

/** How many look at a device's page just now. */
export type Lookers = Pick<Extract<LiveFrame, { kind: 'looking' }>, 'people' | 'strangers'>

/** How a device does, and when it was heard last. */
export type DeviceState = Pick<DevicePresence, 'presence' | 'heardAt'>

/**
 * What came in live, by signal and by device. Who looks at one of them hears of that one: a frame redraws what it changed, and
 * nothing else.
 */
export class LiveValues {
  readonly #values = new Map<number, LiveValue>()
  readonly #signalPresence = new Map<number, Presence>()
  readonly #devices = new Map<number, DeviceState>()
  readonly #lookers = new Map<number, Lookers>()
  readonly #listeners = new Map<string, Set<() => void>>()

  /** Takes in what a frame brings. */
  take(frame: LiveFrame): void {
    if (frame.kind === 'snapshot' || frame.kind === 'readings') {
      for (const { signal, readings } of frame.signals) {
        const before = this.#values.get(signal)
        const next = newest(before, readings)
        if (next && next !== before) {
          this.#values.set(signal, next)
          this.#tell(`signal ${signal}`)
        }
      }
    }
    if (frame.kind === 'looking') {
      const { device, people, strangers } = frame
      this.#lookers.set(device, { people, strangers })
      this.#tell(`device ${device}`)
    }
    if (frame.kind === 'presence') {
      for (const { device, presence, heardAt, signals } of frame.devices) {
        this.#devices.set(device, { presence, heardAt })
        this.#tell(`device ${device}`)
        for (const [signal, does] of signals) {
          this.#signalPresence.set(signal, does)
          this.#tell(`signal ${signal}`)
        }
      }
    }
  }

  readonly value = (signal: number): LiveValue | undefined => this.#values.get(signal)
  readonly signalPresence = (signal: number): Presence | undefined => this.#signalPresence.get(signal)
  readonly lookers = (device: number): Lookers | undefined => this.#lookers.get(device)
  readonly device = (device: number): DeviceState | undefined => this.#devices.get(device)

  onSignal(signal: number, listener: () => void): () => void {
    return this.#on(`signal ${signal}`, listener)
  }

  onDevice(device: number, listener: () => void): () => void {
    return this.#on(`device ${device}`, listener)
  }

  /**
   * Lets go of what signals had, where they were asked for anew: readings may have been removed, or corrected.
   * @param before what came in live since this instant, epoch ms, may be newer than the answer, and stays
   */
  askedAnew(signals: Iterable<number>, before: number): void {
    for (const signal of signals) {
      const known = this.#values.get(signal)
      if (!known || known.receivedAt >= before) continue
      this.#values.delete(signal)
      this.#tell(`signal ${signal}`)
    }
  }

  #on(what: string, listener: () => void): () => void {
    const listeners = this.#listeners.get(what) ?? new Set()
    this.#listeners.set(what, listeners.add(listener))
    return () => {
      listeners.delete(listener)
      if (listeners.size === 0) this.#listeners.delete(what)
    }
  }

  #tell(what: string): void {
    for (const listener of this.#listeners.get(what) ?? []) listener()
  }
}

type Told = Extract<LiveFrame, { kind: 'readings' }>['signals'][number]['readings'][number]

function newest(before: LiveValue | undefined, told: readonly Told[]): LiveValue | undefined {
  let latest = before
  for (const [at, receivedAt, value, quality] of told) {
    // One that was stamped by a clock that was ahead must not hide what comes after.
    if (!latest || at >= latest.at || latest.at > receivedAt + aheadBy)
      latest = { at, receivedAt, value, quality }
  }
  if (!latest || latest === before) return latest
  // What came and went between two looks is told beside what is.
  const { value } = latest
  const [at, , passed] = told.slice(0, -1).findLast(([, , other]) => !sameValue(other, value)) ?? []
  return at === undefined || passed === undefined ? latest : { ...latest, passed: { value: passed, at } }
}
