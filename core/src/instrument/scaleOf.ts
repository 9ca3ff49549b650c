import type { SignalDefinition, Span } from '../signal/index.ts'

type Described = Pick<SignalDefinition, 'shown' | 'range' | 'limits'>

/** From where to where its scale goes; undefined where nobody has said anything that bounds it. */
export function scaleOf({ shown, range, limits }: Described): { low: number; high: number } | undefined {
  const stated = bounded(shown)
  if (stated) return stated
  const bounds = [limits?.lowLow, limits?.low, limits?.high, limits?.highHigh].filter(
    (limit): limit is number => typeof limit === 'number',
  )
  const [least, most] = [Math.min(...bounds), Math.max(...bounds)]
  // What lies beyond the limits has as much room as what lies between them.
  if (bounds.length > 1) return { low: least - (most - least) / 2, high: most + (most - least) / 2 }
  const [only] = bounds
  if (only === undefined) return bounded(range)
  // On the side of a single limit a scale ends soon beyond it; what a sensor can say at most would hide where the values are.
  const isCeiling = limits?.high === only || limits?.highHigh === only
  const end = isCeiling ? (range.low ?? Math.min(0, only * 2)) : (range.high ?? Math.max(0, only * 2))
  return bounded(
    isCeiling ? { low: end, high: only + (only - end) / 4 } : { low: only - (end - only) / 4, high: end },
  )
}

const bounded = ({ low, high }: Span): { low: number; high: number } | undefined =>
  low !== null && high !== null && low < high ? { low, high } : undefined
