/** One point of a trace: instant in epoch ms, value. */
export type TracePoint = readonly [at: number, value: number]

/**
 * Thins a trace to the columns it is drawn on without changing the picture: per column it keeps the first, lowest, highest
 * and last point (M4 aggregation; Jugel et al., "M4: A Visualization-Oriented Time Series Data Aggregation", VLDB 2014).
 * @param points in order of time
 * @param origin where a column begins, epoch ms
 * @param width of a column, ms
 */
export function decimate(points: readonly TracePoint[], origin: number, width: number): TracePoint[] {
  const kept: TracePoint[] = []
  const columnOf = ([at]: TracePoint): number => Math.floor((at - origin) / width)
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
    if (end - start <= 4) for (let index = start; index < end; index++) kept.push(points[index] as TracePoint)
    else {
      const chosen = new Set([start, lowest, highest, end - 1].sort((a, b) => a - b))
      for (const index of chosen) kept.push(points[index] as TracePoint)
    }
    start = end
  }
  return kept
}
