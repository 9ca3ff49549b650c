import type { Reading } from '@jaunty-sparrow/core/signal'

/** Later than this, ms, no reading can be that was stamped by a clock that is right. */
export const aheadBy = 10 * 60_000

/** The latest reading of every signal, in memory. */
export class LatestReadings {
  readonly #bySignal = new Map<number, Reading>()
  readonly #meanwhile = new Set<(readonly Reading[])[]>()
  readonly #now: () => number

  /** @param now epoch ms */
  constructor(now: () => number) {
    this.#now = now
  }

  readonly of = (signal: number): Reading | undefined => this.#bySignal.get(signal)

  /** Takes readings for the latest where they are. */
  take(readings: readonly Reading[]): void {
    for (const list of this.#meanwhile) list.push(readings)
    for (const reading of readings) {
      const known = this.#bySignal.get(reading.signal)
      // One that was stamped while the clock was ahead must not hide what comes after.
      if (!known || reading.at >= known.at || known.at > this.#now() + aheadBy)
        this.#bySignal.set(reading.signal, reading)
    }
  }

  /**
   * Takes what is stored for the latest, where readings were removed or put back. What is taken while it is read stays: the
   * store may have been read before that was committed.
   */
  async reread(read: () => Promise<readonly Reading[]>): Promise<void> {
    const meanwhile: (readonly Reading[])[] = []
    this.#meanwhile.add(meanwhile)
    try {
      const stored = await read()
      this.#bySignal.clear()
      this.take(stored)
    } finally {
      this.#meanwhile.delete(meanwhile)
    }
    this.take(meanwhile.flat())
  }

  forget(signals: Iterable<number>): void {
    for (const signal of signals) this.#bySignal.delete(signal)
  }
}
