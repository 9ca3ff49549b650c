import type { Reading } from '@jaunty-sparrow/core/signal'

/** Later than this, ms, no reading can be that was stamped by a clock that is right. */
export const aheadBy = 10 * 60_000

/** The latest reading of every signal, in memory. */
export class LatestReadings {
  readonly #bySignal = new Map<number, Reading>()
  readonly #now: () => number

  /** @param now epoch ms */
  constructor(now: () => number) {
    this.#now = now
  }

  readonly of = (signal: number): Reading | undefined => this.#bySignal.get(signal)

  /** Takes readings for the latest where they are. */
  take(readings: readonly Reading[]): void {
    for (const reading of readings) {
      const known = this.#bySignal.get(reading.signal)
      // One that was stamped while the clock was ahead must not hide what comes after.
      if (!known || reading.at >= known.at || known.at > this.#now() + aheadBy)
        this.#bySignal.set(reading.signal, reading)
    }
  }

  /**
   * Takes what is stored for the latest, where readings were removed or put back.
   * @param since when it was read, epoch ms: what came in later stays
   */
  replace(latest: readonly Reading[], since: number): void {
    for (const [signal, { receivedAt }] of this.#bySignal)
      if (receivedAt < since) this.#bySignal.delete(signal)
    this.take(latest)
  }

  forget(signals: Iterable<number>): void {
    for (const signal of signals) this.#bySignal.delete(signal)
  }
}
