/** One point of a trace: instant in epoch ms, value. */
export type TracePoint = readonly [at: number, value: number]

/**
 * Thins a trace to the pixels it is drawn on without changing the picture: per column it keeps the first, lowest, highest
 * and last point (M4 aggregation; Jugel et al., "M4: A Visualization-Oriented Time Series Data Aggregation", VLDB 2014).
 * @param points in order of time
 * @param columns pixel columns that the span from..to is drawn on
 */
export function decimate(
  points: readonly TracePoint[],
  from: number,
  to: number,
  columns: number,
): TracePoint[] {
  if (points.length <= columns * 4) return [...points]
  const kept: TracePoint[] = []
  const columnOf = ([at]: TracePoint): number => Math.floor(((at - from) / (to - from)) * columns)
  let start = 0
  while (start < points.length) {
    const column = columnOf(points[start] as TracePoint)
    let end = start
    let lowest = start
    let highest = start
    for (; end < points.length && columnOf(points[end] as TracePoint) === column; end++) {
      const value = (points[end] as TracePoint)[1]
      if (value < (points[lowest] as TracePoint)[1]) lowest = end
      if (value > (points[highest] as TracePoint)[1]) highest = end
    }
    const chosen = new Set([start, lowest, highest, end - 1].sort((a, b) => a - b))
    for (const index of chosen) kept.push(points[index] as TracePoint)
    start = end
  }
  return kept
}
