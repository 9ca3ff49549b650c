import { tracePath } from '@jaunty-sparrow/drawings/chart'
import { extent } from 'd3-array'
import { memo } from 'react'

interface SparklineProps {
  readonly points: readonly (readonly [number, number])[]
  readonly from: number
  readonly to: number
  /** Longer silences than this, ms, are shown as gaps. */
  readonly gap: number
  readonly stepped: boolean
}

const width = 120
const height = 28

/** The course of a signal in the size of a word, with a beak at its live end. */
export const Sparkline = memo(({ points, from, to, gap, stepped }: SparklineProps) => {
  if (points.length < 2) return <span className="block h-7" />
  const [low = 0, high = 0] = extent(points, ([, value]) => value)
  const middle = (low + high) / 2
  const half = Math.max((high - low) / 2, Math.abs(middle) * 0.002, 1e-9)
  const x = (at: number) => ((at - from) / (to - from)) * (width - 8)
  const y = (value: number) => height / 2 - ((value - middle) / half) * (height / 2 - 4)
  const last = points.at(-1) as readonly [number, number]
  return (
    <svg
      viewBox={`0 0 ${width} ${height}`}
      className="h-7 w-full max-w-[7.5rem] text-trace"
      aria-hidden="true"
    >
      <path
        d={tracePath(points, x, y, gap, stepped)}
        fill="none"
        stroke="currentColor"
        strokeWidth="1.25"
        strokeLinejoin="round"
      />
      <path d={`M${x(last[0])} ${y(last[1]) - 3}l6 3l-6 3Z`} fill="currentColor" />
    </svg>
  )
})
