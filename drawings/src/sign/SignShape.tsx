import type { ReactNode } from 'react'
import type { Shape } from './signOf.ts'

/** Corners in a square from −1 to 1; a circle has none. */
const corners: Readonly<Record<Shape, readonly (readonly [x: number, y: number])[]>> = {
  fine: [],
  high: [
    [0, -0.9],
    [0.95, 0.75],
    [-0.95, 0.75],
  ],
  low: [
    [0, 0.9],
    [0.95, -0.75],
    [-0.95, -0.75],
  ],
  on: square(),
  off: square(),
  unknown: square(),
  fault: square(),
}

function square(): readonly (readonly [number, number])[] {
  return [
    [-0.75, -0.75],
    [0.75, -0.75],
    [0.75, 0.75],
    [-0.75, 0.75],
  ]
}

const filled: readonly Shape[] = ['high', 'low', 'on']

interface SignShapeProps {
  readonly shape: Shape
  readonly ink: string
  /** px */
  readonly size: number
}

/** The shape of a sign; no two states differ by colour alone. */
export const SignShape = ({ shape, ink, size }: SignShapeProps): ReactNode => {
  const radius = size / 2 - 2
  const points = corners[shape].map(([x, y]) => `${(x * radius).toFixed(1)} ${(y * radius).toFixed(1)}`)
  const look = {
    'data-sign': shape,
    fill: filled.includes(shape) ? ink : 'none',
    stroke: ink,
    strokeWidth: 2,
    strokeDasharray: shape === 'unknown' ? '2 4' : undefined,
  }
  if (shape === 'fine') return <circle r={radius * 0.8} {...look} />
  const outline = `M${points.join('L')}Z`
  // A square that is crossed out.
  return (
    <path
      d={shape === 'fault' ? `M${points[0]}L${points[2]}M${points[1]}L${points[3]}` : outline}
      {...look}
    />
  )
}
