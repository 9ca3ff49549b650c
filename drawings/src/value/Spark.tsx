import { extent } from 'd3-array'
import { memo, type ReactNode } from 'react'
import { Line } from '../chart/index.ts'
import type { ShownTrace } from '../instrument/index.ts'

export interface SparkProps {
  readonly trace: ShownTrace | null
  readonly isStepped: boolean
  /** What it covers, epoch ms. */
  readonly from: number
  readonly to: number
  /** px */
  readonly width: number
  readonly height: number
}

/** Room for the beak at the end of the line, px. */
const beak = 7
const margin = 2

/** The course of a signal in the size of a word; its line ends in the beak. Drawn anew only when it is another one. */
export const Spark = memo(function Spark({
  trace,
  isStepped,
  from,
  to,
  width,
  height,
}: SparkProps): ReactNode {
  const points = trace?.points ?? []
  const last = points.at(-1)
  if (!trace || !last) return null
  const [low = 0, high = 0] = extent(points, ([, value]) => value)
  const x = ((last[0] - from) / (to - from)) * (width - beak)
  const share = high === low ? 0.5 : (last[1] - low) / (high - low)
  const y = height - margin - share * (height - 2 * margin)
  return (
    <g>
      <Line
        points={points}
        from={from}
        to={to}
        left={0}
        right={width - beak}
        low={low}
        high={high}
        top={margin}
        bottom={height - margin}
        gap={trace.gap}
        isStepped={isStepped}
        stroke="var(--trace)"
        strokeWidth={1.25}
        name=""
      />
      <path d={`M${x.toFixed(1)} ${(y - 3.5).toFixed(1)}l7 3.5l-7 3.5Z`} fill="var(--trace)" />
    </g>
  )
})
