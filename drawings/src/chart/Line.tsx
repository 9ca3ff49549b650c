import { memo, type ReactNode } from 'react'
import { tracePath } from './tracePath.ts'

export interface LineProps {
  readonly points: readonly (readonly [at: number, value: number])[]
  /** Of time, epoch ms, and where it lies, px. */
  readonly from: number
  readonly to: number
  readonly left: number
  readonly right: number
  /** Of values, and where they lie, px. */
  readonly low: number
  readonly high: number
  readonly top: number
  readonly bottom: number
  /** A silence longer than this, ms, breaks the line. */
  readonly gap: number
  /** Whether each value holds until the next one, as of a switch. */
  readonly isStepped: boolean
  readonly stroke: string
  readonly strokeWidth: number
  readonly name: string | number
}

/** The line of a course. Written anew only when it is another one: most of what comes changes a number, and no line yet. */
export const Line = memo(function Line(props: LineProps): ReactNode {
  const { points, from, to, left, right, low, high, top, bottom, gap, isStepped } = props
  const x = (at: number) => left + ((at - from) / (to - from)) * (right - left)
  // What does not change is a line in the middle.
  const y = (value: number) =>
    high === low ? (top + bottom) / 2 : bottom - ((value - low) / (high - low)) * (bottom - top)
  return (
    <path
      data-trace={props.name}
      d={tracePath(points, x, y, gap, isStepped)}
      fill="none"
      stroke={props.stroke}
      strokeWidth={props.strokeWidth}
      strokeLinejoin="round"
    />
  )
})
