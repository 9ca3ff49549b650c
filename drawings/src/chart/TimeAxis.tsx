import { timeTicks } from '@jaunty-sparrow/core/time'
import { memo, type ReactNode } from 'react'

export interface TimeAxisProps {
  /** What it shows, epoch ms. */
  readonly from: number
  readonly to: number
  readonly timeZone: string
  /** px */
  readonly left: number
  readonly right: number
}

/** How high it is, px. */
export const timeAxisHeight = 18

/** There is a tick so often, px. */
const every = 70
/** Names at the very ends would be cut off, px. */
const apart = 16

/** Time along the foot of a drawing. It stays as it is while values come. */
export const TimeAxis = memo(({ from, to, timeZone, left, right }: TimeAxisProps): ReactNode => {
  const x = (at: number) => left + ((at - from) / (to - from)) * (right - left)
  return (
    <g>
      {timeTicks(from, to, Math.max(2, Math.floor((right - left) / every)), timeZone).map(({ at, label }) => (
        <g key={at} transform={`translate(${x(at).toFixed(1)} 0)`}>
          <path d="M0 0v4" stroke="var(--ink-soft)" />
          {x(at) > left + apart && x(at) < right - apart && (
            <text y={15} textAnchor="middle" fontSize={11} fill="var(--ink-soft)">
              {label}
            </text>
          )}
        </g>
      ))}
    </g>
  )
})
