import type { ReactNode } from 'react'
import type { Shape } from './signOf.ts'

/** Within a square from −1 to 1. */
const paths: Readonly<Record<Shape, string>> = {
  fine: 'M-.8 0A.8 .8 0 1 1 .8 0A.8 .8 0 1 1 -.8 0Z',
  high: 'M0 -.9L.95 .75H-.95Z',
  low: 'M0 .9L.95 -.75H-.95Z',
  on: 'M-.75 -.75H.75V.75H-.75Z',
  off: 'M-.75 -.75H.75V.75H-.75Z',
  unknown: 'M-.6 -.8V.8M.6 -.8V.8',
  fault: 'M-.75 -.75L.75 .75M.75 -.75L-.75 .75',
}
const filled: readonly Shape[] = ['high', 'low', 'on']

/** The shape of a sign; no two states differ by colour alone. */
export const SignShape = ({
  shape,
  ink,
  size,
}: {
  readonly shape: Shape
  readonly ink: string
  /** px */
  readonly size: number
}): ReactNode => (
  <path
    data-sign={shape}
    d={paths[shape]}
    transform={`scale(${size / 2 - 2})`}
    fill={filled.includes(shape) ? ink : 'none'}
    stroke={ink}
    strokeWidth={2}
    strokeDasharray={shape === 'unknown' ? '2 4' : undefined}
    vectorEffect="non-scaling-stroke"
  />
)
