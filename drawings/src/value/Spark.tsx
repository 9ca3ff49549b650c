import { extent } from 'd3-array'
import type { ReactNode } from 'react'
import { tracePath } from '../chart/index.ts'
import type { ShownSignal } from '../instrument/index.ts'

export interface SparkProps {
  readonly signal: Pick<ShownSignal, 'kind' | 'trace'>
  /** What it covers, epoch ms. */
  readonly stretch: { readonly from: number; readonly to: number }
  /** px */
  readonly width: number
  readonly height: number
}

/** Room for the beak at the end of the line, px. */
const beak = 7

/** The course of a signal in the size of a word; its line ends in the beak. */
export function Spark({ signal, stretch, width, height }: SparkProps): ReactNode {
  const points = signal.trace?.points ?? []
  if (points.length === 0) return null
  const [low = 0, high = 0] = extent(points, ([, value]) => value)
  const x = (at: number) => ((at - stretch.from) / (stretch.to - stretch.from)) * (width - beak)
  // What does not change is a line in the middle.
  const y = (value: number) =>
    high === low ? height / 2 : 2 + (1 - (value - low) / (high - low)) * (height - 4)
  const [lastAt = 0, lastValue = 0] = points.at(-1) ?? []
  return (
    <g>
      <path
        data-trace
        d={tracePath(points, x, y, signal.trace?.gap ?? 0, signal.kind !== 'number')}
        fill="none"
        stroke="var(--trace)"
        strokeWidth={1.25}
        strokeLinejoin="round"
      />
      <path
        d={`M${x(lastAt).toFixed(1)} ${(y(lastValue) - 3.5).toFixed(1)}l7 3.5l-7 3.5Z`}
        fill="var(--trace)"
      />
    </g>
  )
}
