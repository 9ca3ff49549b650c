/** A span of time, epoch ms, both ends included. */
export interface TimeSpan {
  readonly from: number
  readonly to: number
}

/** The fewest spans that cover the same instants, in order. */
export function mergeSpans(spans: readonly TimeSpan[]): TimeSpan[] {
  const merged: TimeSpan[] = []
  for (const span of [...spans].sort((a, b) => a.from - b.from)) {
    const before = merged.at(-1)
    if (before && span.from <= before.to + 1)
      merged[merged.length - 1] = { from: before.from, to: Math.max(before.to, span.to) }
    else merged.push(span)
  }
  return merged
}
