import { closeInterval, type Keep, type KeepState, keepReadings, type Reading } from '@jaunty-sparrow/core'
import groupBy from 'lodash-es/groupBy.js'
import isEqual from 'lodash-es/isEqual.js'
import type { KeptMessage } from '../arrivals/keptMessage.ts'

/** What is stored of the signals of which not everything is, by the number of the signal. */
type Policies = () => ReadonlyMap<number, Keep>

type Write = (readings: readonly Reading[], messages: readonly KeptMessage[]) => Promise<number>

/** An interval is closed this long after it is over, ms, so that what was on its way still counts. */
const grace = 5000

interface Remembered {
  readonly keep: Keep
  readonly state: KeepState
}
type Memory = Map<number, Remembered | undefined>

/**
 * Stores less than arrives, where a signal says so. It remembers what it needs only when a write has held, so what could not
 * be stored is chosen anew when it comes again.
 */
export class Thinning {
  readonly #policies: Policies
  readonly #write: Write
  readonly #memory: Memory = new Map()
  /** One write at a time: the next one is chosen by what this one leaves behind. */
  #turn: Promise<unknown> = Promise.resolve()

  /** @param write stores a batch durably, or throws with nothing stored */
  constructor(policies: Policies, write: Write) {
    this.#policies = policies
    this.#write = write
  }

  /** Writes messages, and of the readings those that are to be kept. @returns how many readings were new */
  readonly write: Write = (readings, messages) => {
    const policies = this.#policies()
    if (policies.size === 0) return this.#write(readings, messages)
    return this.#inTurn(async () => {
      const kept = readings.filter(({ signal }) => !policies.has(signal))
      const next: Memory = new Map()
      const thinned = readings.filter(({ signal }) => policies.has(signal))
      for (const own of Object.values(groupBy(thinned, ({ signal }) => signal))) {
        const signal = own[0]?.signal ?? 0
        const keep = policies.get(signal)
        if (!keep) continue
        const { store, state } = keepReadings(keep, this.#stateOf(signal, keep), own)
        kept.push(...store)
        next.set(signal, state && { keep, state })
      }
      const fresh = await this.#write(kept, messages)
      this.#remember(next)
      return fresh
    })
  }

  /** Stores what the intervals come to that are over. */
  closeIntervals(now: number): Promise<void> {
    return this.#inTurn(async () => {
      const policies = this.#policies()
      const kept: Reading[] = []
      const next: Memory = new Map()
      for (const [signal, { state: before } = { state: undefined }] of this.#memory) {
        const keep = policies.get(signal)
        const { store, state } = keep
          ? closeInterval(keep, this.#stateOf(signal, keep), now - grace)
          : { store: [], state: undefined }
        if (state === before) continue
        kept.push(...store)
        next.set(signal, state && keep && { keep, state })
      }
      if (kept.length > 0) await this.#write(kept, [])
      this.#remember(next)
    })
  }

  /** What is remembered of a signal, unless it was said since that something else is to be kept. */
  #stateOf(signal: number, keep: Keep): KeepState | undefined {
    const known = this.#memory.get(signal)
    return known && isEqual(known.keep, keep) ? known.state : undefined
  }

  #remember(next: Memory): void {
    for (const [signal, known] of next) {
      if (known) this.#memory.set(signal, known)
      else this.#memory.delete(signal)
    }
  }

  #inTurn<T>(work: () => Promise<T>): Promise<T> {
    const turn = this.#turn.catch(() => undefined).then(work)
    this.#turn = turn
    return turn
  }
}
