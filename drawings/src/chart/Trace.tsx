import type { ReactNode } from 'react'

export interface TraceProps {
  /** What `tracePath` makes, px. */
  readonly path: string
  /** While the hand moves, the last picture is moved and stretched along the axis of time. */
  readonly shift: number
  readonly stretch: number
  /** Where the line ends in its beak, px; without it the line ends in the past. */
  readonly end: { readonly x: number; readonly y: number } | undefined
}

/** The course of a signal: one line of ink, as fine wherever it is stretched, that ends in the beak where now is. */
export const Trace = ({ path, shift, stretch, end }: TraceProps): ReactNode => (
  <>
    <path
      data-testid="trace"
      d={path}
      transform={`translate(${shift} 0) scale(${stretch} 1)`}
      fill="none"
      stroke="var(--trace)"
      strokeWidth={1.5}
      strokeLinejoin="round"
      vectorEffect="non-scaling-stroke"
    />
    {end && <path data-beak d={`M${end.x} ${end.y - 4.5}l8 4.5l-8 4.5Z`} fill="var(--trace)" />}
  </>
)
