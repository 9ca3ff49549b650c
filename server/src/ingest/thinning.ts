import {
  closeInterval,
  type Reading,
  type StoringRule,
  type StoringState,
  thinReadings,
} from '@jaunty-sparrow/core/signal'
import groupBy from 'lodash-es/groupBy.js'
import isEqual from 'lodash-es/isEqual.js'
import type { Write } from '../readings/written.ts'
import { Turns } from './turns.ts'

/** What is stored of the signals of which not everything is, by the number of the signal. */
type Policies = () => ReadonlyMap<number, StoringRule>

/** An interval is closed this long after it is over, ms, so that what was on its way still counts. */
const grace = 5000

interface Remembered {
  readonly storing: StoringRule
  readonly state: StoringState
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
  readonly #turns = new Turns()

  /** @param write stores a batch durably, or throws with nothing stored */
  constructor(policies: Policies, write: Write) {
    this.#policies = policies
    this.#write = write
  }

  /** Writes messages, and of the readings those that are to be kept. @returns what came of them */
  readonly write: Write = (readings, messages) => {
    const policies = this.#policies()
    if (policies.size === 0) return this.#write(readings, messages)
    return this.#turns.take(async () => {
      const kept = readings.filter(({ signal }) => !policies.has(signal))
      const next: Memory = new Map()
      const thinned = readings.filter(({ signal }) => policies.has(signal))
      for (const own of Object.values(groupBy(thinned, ({ signal }) => signal))) {
        const signal = own[0]?.signal ?? 0
        const storing = policies.get(signal)
        if (!storing) continue
        const { store, state } = thinReadings(storing, this.#stateOf(signal, storing), own)
        kept.push(...store)
        next.set(signal, state && { storing, state })
      }
      const written = await this.#write(kept, messages, readings)
      this.#remember(next)
      return written
    })
  }

  /** Stores what the intervals come to that are over. */
  closeIntervals(now: number): Promise<void> {
    return this.#turns.take(async () => {
      const policies = this.#policies()
      const kept: Reading[] = []
      const next: Memory = new Map()
      for (const [signal, { state: before } = { state: undefined }] of this.#memory) {
        const storing = policies.get(signal)
        const { store, state } = storing
          ? closeInterval(storing, this.#stateOf(signal, storing), now - grace)
          : { store: [], state: undefined }
        if (state === before) continue
        kept.push(...store)
        next.set(signal, state && storing && { storing, state })
      }
      if (kept.length > 0) await this.#write(kept, [], [])
      this.#remember(next)
    })
  }

  /** What is remembered of a signal, unless it was said since that something else is to be kept. */
  #stateOf(signal: number, storing: StoringRule): StoringState | undefined {
    const known = this.#memory.get(signal)
    return known && isEqual(known.storing, storing) ? known.state : undefined
  }

  #remember(next: Memory): void {
    for (const [signal, known] of next) {
      if (known) this.#memory.set(signal, known)
      else this.#memory.delete(signal)
    }
  }
}
