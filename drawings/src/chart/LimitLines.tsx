import type { ReactNode } from 'react'

/** The bounds of a signal, in its unit; null where there is none. */
interface Limits {
  readonly lowLow: number | null
  readonly low: number | null
  readonly high: number | null
  readonly highHigh: number | null
}

export interface LimitLinesProps {
  readonly limits: Limits
  /** px */
  readonly left: number
  readonly right: number
  readonly y: (value: number) => number
}

/** Limits across a chart: dotted hairlines, each with a notch at its beginning whose foot points into the allowed side. */
export const LimitLines = ({ limits, left, right, y }: LimitLinesProps): ReactNode =>
  (['lowLow', 'low', 'high', 'highHigh'] as const).map((name) => {
    const value = limits[name]
    if (value === null) return null
    const inward = name === 'low' || name === 'lowLow' ? -1 : 1
    return (
      <g key={name} data-limit={name} transform={`translate(${left} ${y(value)})`}>
        <path d={`M0 0H${right - left}`} stroke="var(--ink)" strokeDasharray="1 4" strokeLinecap="round" />
        <path d={`M0 0h6l-6 ${6 * inward}z`} fill="var(--ink)" />
      </g>
    )
  })
