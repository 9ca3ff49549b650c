import type { ReactNode } from 'react'
import type { StateSpan } from './stateSpans.ts'

export interface StateBarProps {
  readonly spans: readonly StateSpan[]
  /** What is drawn, epoch ms. */
  readonly from: number
  readonly to: number
  /** px */
  readonly width: number
}

/** How high it is, px. */
export const stateBarHeight = 16

/** When something was on: ink on a hairline. */
export const StateBar = ({ spans, from, to, width }: StateBarProps): ReactNode => {
  const x = (at: number) => ((Math.min(to, Math.max(from, at)) - from) / (to - from)) * width
  return (
    <g>
      <path d={`M0 ${stateBarHeight - 1}H${width}`} stroke="var(--rule-strong)" />
      {spans
        .filter((span) => span.to > from && span.from < to)
        .map((span) => (
          <rect
            key={span.from}
            data-on
            x={x(span.from)}
            y={2}
            width={Math.max(1, x(span.to) - x(span.from))}
            height={stateBarHeight - 4}
            fill="var(--ink)"
          />
        ))}
    </g>
  )
}
