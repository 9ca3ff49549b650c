/** A stretch of time, epoch ms. */
export interface Silence {
  readonly from: number
  readonly to: number
}

/** More than these are no silences to look at, but a signal that speaks seldom. */
const most = 40

/** Where nobody knows what was: between two points that are farther apart than a gap. @param gap ms */
export function silences(points: readonly (readonly [at: number, value: number])[], gap: number): Silence[] {
  const found: Silence[] = []
  for (let index = 1; index < points.length; index++) {
    const from = points[index - 1]?.[0] ?? 0
    const to = points[index]?.[0] ?? 0
    if (to - from > gap) found.push({ from, to })
  }
  return found.length > most ? [] : found
}
