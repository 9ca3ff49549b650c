/** A stretch of time, epoch ms, in which something was in one state. */
export interface ChoiceSpan {
  readonly from: number
  readonly to: number
  readonly value: number
}

/**
 * In which state something was, of its readings in order: each state holds until the next, at most as long as a silence begins.
 * @param to until when it is known, epoch ms
 * @param gap a longer silence says nothing, ms
 */
export function choiceSpans(
  points: readonly (readonly [at: number, value: number])[],
  to: number,
  gap: number,
): ChoiceSpan[] {
  const spans: { from: number; to: number; value: number }[] = []
  for (const [place, [at, value]] of points.entries()) {
    const until = Math.min(points[place + 1]?.[0] ?? to, at + gap)
    const before = spans.at(-1)
    if (before && before.value === value && before.to >= at) before.to = until
    else spans.push({ from: at, to: until, value })
  }
  return spans
}
