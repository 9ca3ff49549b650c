/** A stretch of time, epoch ms, in which something was on. */
export interface StateSpan {
  readonly from: number
  readonly to: number
}

/**
 * When a switch was on, of its readings in order: each state holds until the next, at most as long as a silence begins.
 * @param to until when it is known, epoch ms
 * @param gap a longer silence says nothing, ms
 */
export function stateSpans(
  points: readonly (readonly [at: number, value: number])[],
  to: number,
  gap: number,
): StateSpan[] {
  const spans: { from: number; to: number }[] = []
  for (const [place, [at, value]] of points.entries()) {
    if (value === 0) continue
    const until = Math.min(points[place + 1]?.[0] ?? to, at + gap)
    const before = spans.at(-1)
    if (before && before.to >= at) before.to = until
    else spans.push({ from: at, to: until })
  }
  return spans
}
