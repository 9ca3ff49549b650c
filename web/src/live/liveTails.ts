import type { LiveFrame, Trace } from '@jaunty-sparrow/contract'

type Points = Trace['points']

/** A page holds so many live points of a signal; what is older has been stored, and is fetched. */
const mostPoints = 20_000

/** What came in live of the signals somebody draws, to be put behind what was fetched. */
export class LiveTails {
  readonly #points = new Map<number, Points>()
  readonly #followers = new Map<number, number>()
  readonly #skippedListeners = new Set<(signals: ReadonlySet<number>) => void>()

  /** Begins to gather what comes in of some signals. @returns a function that lets go of them */
  follow(signals: readonly number[]): () => void {
    for (const signal of signals) this.#followers.set(signal, (this.#followers.get(signal) ?? 0) + 1)
    return () => {
      for (const signal of signals) {
        const left = (this.#followers.get(signal) ?? 0) - 1
        if (left > 0) this.#followers.set(signal, left)
        else {
          this.#followers.delete(signal)
          this.#points.delete(signal)
        }
      }
    }
  }

  /** Calls back with the signals of which readings came that a frame had no room for. */
  onSkipped(listener: (signals: ReadonlySet<number>) => void): () => void {
    this.#skippedListeners.add(listener)
    return () => this.#skippedListeners.delete(listener)
  }

  take(frame: LiveFrame): void {
    if (frame.kind !== 'readings') return
    const skipped = new Set<number>()
    for (const { signal, readings, skipped: count } of frame.signals) {
      if (!this.#followers.has(signal)) continue
      if (count > 0) skipped.add(signal)
      const points = this.#points.get(signal) ?? []
      this.#points.set(signal, points)
      for (const [at, , value] of readings) if (typeof value === 'number') points.push([at, value])
      if (points.length > mostPoints) points.splice(0, points.length - mostPoints)
    }
    if (skipped.size > 0) for (const listener of this.#skippedListeners) listener(skipped)
  }

  /**
   * What was fetched of a signal and what came in since, in order: late ones where they belong, repeated ones once.
   * @param oldest what was measured before this instant, epoch ms, has left the picture
   */
  joined(signal: number, fetched: Points, oldest: number): Points {
    const joined: Points = fetched.filter(([at]) => at >= oldest)
    for (const point of this.#points.get(signal) ?? []) {
      if (point[0] < oldest) continue
      let place = joined.length
      while (place > 0 && (joined[place - 1]?.[0] ?? 0) > point[0]) place--
      if (joined[place - 1]?.[0] !== point[0]) joined.splice(place, 0, point)
    }
    return joined
  }
}
