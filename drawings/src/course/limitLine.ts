import type { ShownSignal } from '../instrument/index.ts'

/** The limits that lie within a row, as lines across it; what lies outside would only press the line flat. */
export const limitLine = (
  limits: ShownSignal['limits'],
  least: number,
  most: number,
  y: (value: number) => number,
  right: number,
): string =>
  limits
    ? [limits.lowLow, limits.low, limits.high, limits.highHigh]
        .filter((limit): limit is number => limit !== null && limit >= least && limit <= most)
        .map((limit) => `M0 ${y(limit).toFixed(1)}H${right.toFixed(1)}`)
        .join('')
    : ''
