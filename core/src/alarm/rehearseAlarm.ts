import { type Level, LevelWatch, newWatchState } from './levelWatch.ts'

/** A stretch in which an alarm would have been active, epoch ms; its end is no part of it. */
export interface Occurrence {
  readonly from: number
  readonly to: number
  /** The worst value of it; null where it has none. */
  readonly worst: number | null
}

/** A reading as it was measured, epoch ms; null where the sensor was at fault. */
export interface PastReading {
  readonly at: number
  readonly value: number | null
}

/**
 * Runs a level over what was: when the alarm would have been active within a span.
 * @param readings the oldest first, with the last before the span
 * @param countsFor how long a reading counts, ms; null for as long as one likes
 * @param from,to epoch ms
 */
export function rehearseLevel(
  level: Level,
  readings: Iterable<PastReading>,
  countsFor: number | null,
  from: number,
  to: number,
): Occurrence[] {
  const occurrences: Occurrence[] = []
  let began: number | undefined
  const end = (at: number, worst: number | null) => {
    if (began !== undefined && at > from) occurrences.push({ from: Math.max(began, from), to: at, worst })
    began = undefined
  }
  const watch = new LevelWatch({ ...level, lateness: Number.POSITIVE_INFINITY }, newWatchState, (found) => {
    if (found.kind === 'raise') began = found.at
    else end(found.at, found.worst)
  })
  let countsUntil: number | null = null
  for (const { at, value } of readings) {
    if (at >= to) break
    watch.pass(at, countsUntil)
    watch.hear({ at, heardAt: at, value })
    countsUntil = countsFor === null ? null : at + countsFor
  }
  watch.pass(to - 1, countsUntil)
  end(to, watch.state.worst)
  return occurrences
}

/** When nothing was said for longer than may be. @param longest ms */
export function silencesOf(
  readings: readonly PastReading[],
  longest: number,
  from: number,
  to: number,
): Occurrence[] {
  return readings.flatMap(({ at }, place) => {
    const begin = Math.max(at + longest, from)
    const end = Math.min(readings[place + 1]?.at ?? to, to)
    return begin < end ? [{ from: begin, to: end, worst: null }] : []
  })
}

/** What is left of occurrences outside of the stretches in which they are suppressed; both the oldest first. */
export function unsuppressed(
  occurrences: readonly Occurrence[],
  suppressed: readonly { readonly from: number; readonly to: number }[],
): Occurrence[] {
  let first = 0
  return occurrences.flatMap((occurrence) => {
    const left: Occurrence[] = []
    let { from } = occurrence
    while ((suppressed[first]?.to ?? Number.POSITIVE_INFINITY) <= from) first++
    for (let place = first; place < suppressed.length; place++) {
      const stretch = suppressed[place]
      if (!stretch || stretch.from >= occurrence.to) break
      if (stretch.from > from) left.push({ ...occurrence, from, to: stretch.from })
      from = stretch.to
    }
    if (from < occurrence.to) left.push({ ...occurrence, from })
    return left
  })
}
