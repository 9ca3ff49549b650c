import type { Trace } from '@jaunty-sparrow/contract'
import { resolutionOf } from '@jaunty-sparrow/core/signal'
import { extent } from 'd3-array'

/** What one look over a trace tells: its bounds, and how finely it is resolved. */
export interface TraceSummary {
  readonly low: number
  readonly high: number
  readonly decimals: number
}

const known = new WeakMap<Trace['points'], TraceSummary>()

/** Summarizes a trace, once for each state it is in. @returns undefined when there is nothing to look at */
export function summarize(trace: Trace | undefined): TraceSummary | undefined {
  if (!trace || trace.points.length === 0) return undefined
  let summary = known.get(trace.points)
  if (!summary) {
    const values = trace.points.map(([, value]) => value)
    const [low = 0, high = 0] = extent(values)
    summary = { low, high, decimals: resolutionOf(values) }
    known.set(trace.points, summary)
  }
  return summary
}
