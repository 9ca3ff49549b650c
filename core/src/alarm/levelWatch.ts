const second = 1000

/** What a reading says of a level: beyond it, back within it, in between where it stays as it was, or nothing that is known. */
export type Reads = 'beyond' | 'within' | 'between' | 'unknown'

/** What is watched. */
export interface Level {
  /** @param value null where the sensor is at fault */
  readonly reads: (value: number | null) => Reads
  /** How long it has to be beyond before it counts, and to be back, s. */
  readonly onDelay: number
  readonly offDelay: number
  /** Which way it gets worse; null where it does not by degrees. */
  readonly worse: 'up' | 'down' | null
  /** How late a reading may come in and still count, ms. */
  readonly lateness: number
}

/** A stretch that was learned of late. Instants are epoch ms. */
interface LateStretch {
  /** The last reading of it, when that was measured and when it came in. */
  readonly at: number
  readonly heardAt: number
  /** Since when it was beyond; null where it is not. */
  readonly from: number | null
  readonly worst: number | null
}

/** How far a watch has come. All of it outlives a restart. Instants are epoch ms. */
export interface WatchState {
  /** When the last reading that counted was measured. */
  readonly lastAt: number | null
  /** What readings say, the deadband taken in. */
  readonly isOver: boolean
  /** The same, the delays taken in. */
  readonly isActive: boolean
  /** Since when the two differ. */
  readonly since: number | null
  readonly value: number | null
  /** The worst of what it said while it was beyond. */
  readonly worst: number | null
  readonly late: LateStretch | null
}

export const newWatchState: WatchState = {
  lastAt: null,
  isOver: false,
  isActive: false,
  since: null,
  value: null,
  worst: null,
  late: null,
}

/** What was found: it began, it is over, or it was beyond, which was learned late. Instants are epoch ms. */
export interface Found {
  readonly kind: 'raise' | 'return' | 'late'
  readonly at: number
  readonly value: number | null
  readonly worst: number | null
  /** Of what was learned late, until when it is known to have been so. */
  readonly until?: number
}

/** A reading of what is watched. */
export interface HeardLevel {
  /** When it was measured, and when it came in, epoch ms. */
  readonly at: number
  readonly heardAt: number
  /** Null where the sensor is at fault. */
  readonly value: number | null
}

/**
 * Watches a level: first a comparison with a deadband, then a delay each way. It comes to the same whether time is let pass at
 * every instant or at those alone at which something falls due.
 */
export class LevelWatch {
  readonly #level: Level
  readonly #tell: (found: Found) => void
  #lastAt: number | null
  #isOver: boolean
  #isActive: boolean
  #since: number | null
  #value: number | null
  #worst: number | null
  #late: LateStretch | null
  #revision = 0

  /** @param tell is told what is found */
  constructor(level: Level, state: WatchState, tell: (found: Found) => void) {
    this.#level = level
    this.#tell = tell
    this.#lastAt = state.lastAt
    this.#isOver = state.isOver
    this.#isActive = state.isActive
    this.#since = state.since
    this.#value = state.value
    this.#worst = state.worst
    this.#late = state.late
  }

  /** Takes a reading. What was measured before the last one is not judged again; what comes in too late is only told. */
  hear({ at: measuredAt, heardAt, value }: HeardLevel): void {
    // A clock that is ahead measures nothing that is still to come.
    const at = Math.min(measuredAt, heardAt)
    if ((this.#lastAt !== null && at <= this.#lastAt) || heardAt - at > this.#level.lateness) {
      this.#hearLate(at, heardAt, value)
      return
    }
    this.pass(at, null)
    this.#lastAt = at
    this.#take(at, value)
  }

  /**
   * Judges what was said last as it is now: the level is new, or another one. What was measured before that is not judged.
   * @param at epoch ms
   */
  reconsider(at: number, said: { readonly at: number; readonly value: number | null }): void {
    this.#lastAt = Math.min(said.at, at)
    this.#take(at, said.value)
  }

  /**
   * Lets time pass up to an instant, epoch ms.
   * @param countsUntil how long what was said last counts, epoch ms; null for as long as one likes
   */
  pass(to: number, countsUntil: number | null): void {
    const due = this.next()
    if (due === null || due > to) return
    if (countsUntil !== null && countsUntil < due) this.#ceaseToKnow()
    else this.#turn(due)
  }

  /** Goes on after the clock was set back: by the clock as it is now, some of what is known is still to come. @param at epoch ms */
  goOn(at: number): void {
    if (this.#lastAt !== null && this.#lastAt > at) this.#lastAt = at
    if (this.#since !== null && this.#since > at) this.#since = at
    this.#revision++
  }

  /** When it has to be looked at though nothing is said, epoch ms; null for never. */
  next(): number | null {
    if (this.#since === null) return null
    return this.#since + (this.#isActive ? this.#level.offDelay : this.#level.onDelay) * second
  }

  get state(): WatchState {
    return {
      lastAt: this.#lastAt,
      isOver: this.#isOver,
      isActive: this.#isActive,
      since: this.#since,
      value: this.#value,
      worst: this.#worst,
      late: this.#late,
    }
  }

  /** Counts what has come of what was said: while it stays, only what was said last is another. */
  get revision(): number {
    return this.#revision
  }

  // It runs for every reading of a month that is tried: nothing is made here that is not needed.
  #take(at: number, value: number | null): void {
    this.#value = value
    const reads = this.#level.reads(value)
    if (reads === 'unknown') {
      this.#ceaseToKnow()
      return
    }
    const isOver = reads === 'between' ? this.#isOver : reads === 'beyond'
    const since = isOver === this.#isActive ? null : (this.#since ?? at)
    if (isOver !== this.#isOver || since !== this.#since) this.#revision++
    this.#isOver = isOver
    this.#since = since
    this.#worst = isOver || this.#isActive ? this.#worseOf(this.#worst, value) : null
    const due = this.next()
    if (due !== null && due <= at) this.#turn(due)
  }

  /** Nobody knows whether it is still beyond, or back: what has not been so for long enough is let go of. */
  #ceaseToKnow(): void {
    if (this.#since !== null || this.#isOver !== this.#isActive) this.#revision++
    this.#isOver = this.#isActive
    this.#since = null
  }

  #turn(at: number): void {
    this.#isActive = !this.#isActive
    this.#since = null
    this.#revision++
    const worst = this.#worst
    if (!this.#isActive) this.#worst = null
    this.#tell({ kind: this.#isActive ? 'raise' : 'return', at, value: this.#value, worst })
  }

  /** What came in before is not told again. */
  #hearLate(at: number, heardAt: number, value: number | null): void {
    const before = this.#late
    if (before && heardAt <= before.heardAt && at <= before.at) return
    if (heardAt - at <= this.#level.lateness) return
    const reads = this.#level.reads(value)
    const isFurther = before !== null && at > before.at
    const wasFrom = isFurther ? before.from : null
    const isOver = reads === 'beyond' || (reads === 'between' && wasFrom !== null)
    const from = isOver ? (wasFrom ?? at) : null
    const worst = isOver ? this.#worseOf(wasFrom === null ? null : (before?.worst ?? null), value) : null
    this.#late = { at, heardAt, from, worst }
    this.#revision++
    if (from !== null && at - from >= this.#level.onDelay * second)
      this.#tell({ kind: 'late', at: from, until: at, value, worst })
  }

  #worseOf(before: number | null, value: number | null): number | null {
    const { worse } = this.#level
    if (before === null || value === null || worse === null) return before ?? value
    return worse === 'up' ? Math.max(before, value) : Math.min(before, value)
  }
}
