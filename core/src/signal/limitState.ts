import type { LimitState, Limits } from './limits.ts'

/** The outermost limit that a value is beyond; null where it is within all of them. What is on a limit is within it. */
export function limitStateOf(value: number, limits: Limits | null): LimitState | null {
  if (limits === null) return null
  const isBelow = (limit: number | null) => limit !== null && value < limit
  const isAbove = (limit: number | null) => limit !== null && value > limit
  if (isBelow(limits.lowLow)) return 'lowLow'
  if (isAbove(limits.highHigh)) return 'highHigh'
  if (isBelow(limits.low)) return 'low'
  return isAbove(limits.high) ? 'high' : null
}
