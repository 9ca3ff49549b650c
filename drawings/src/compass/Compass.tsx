import type { ReactNode } from 'react'

export interface CompassProps {
  /** Degrees, clockwise from north; undefined where nothing is known. */
  readonly direction: number | undefined
  /** How often each direction was, of 1, the first about north. */
  readonly rose: readonly number[]
  /** px */
  readonly size: number
}

/** Room for what stands outside the ring, px. */
const outside = 4
const inside = 12

/** A ring of ticks with the rose of where it came from, and the beak where it comes from now. */
export function Compass({ direction, rose, size }: CompassProps): ReactNode {
  const centre = size / 2
  const ring = centre - outside
  const longest = ring - inside - 12
  const wide = 360 / rose.length / 2
  return (
    <g transform={`translate(${centre} ${centre})`}>
      {rose.map((share, petal) =>
        share === 0 ? null : (
          <path
            // biome-ignore lint/suspicious/noArrayIndexKey: a petal is what it is by its place
            key={petal}
            data-petal={petal}
            d={petalPath(share * longest, (petal * 360) / rose.length, wide)}
            fill="var(--rule-strong)"
            opacity={0.5}
          />
        ),
      )}
      {Array.from({ length: 32 }, (_, tick) => (
        <path
          // biome-ignore lint/suspicious/noArrayIndexKey: a tick is what it is by its place
          key={tick}
          transform={`rotate(${(tick * 360) / 32})`}
          d={`M0 ${-ring}V${-ring + (tick % 8 === 0 ? 7 : 4)}`}
          stroke="var(--ink)"
          strokeWidth={tick % 8 === 0 ? 1.5 : 0.75}
        />
      ))}
      {['N', 'E', 'S', 'W'].map((letter, quarter) => {
        const at = ring - inside - 2
        return (
          <text
            key={letter}
            x={quarter === 1 ? at : quarter === 3 ? -at : 0}
            y={(quarter === 0 ? -at : quarter === 2 ? at : 0) + 4}
            textAnchor="middle"
            fontSize={11}
            fill="var(--ink-soft)"
          >
            {letter}
          </text>
        )
      })}
      {direction !== undefined && (
        <path
          data-beak="now"
          transform={`rotate(${direction})`}
          d={`M0 ${-ring + 14}L-5 ${-ring}L0 ${-ring + 4}L5 ${-ring}Z`}
          fill="var(--ink)"
        />
      )}
    </g>
  )
}

/** A slice of a circle about a direction, with a round end. */
function petalPath(length: number, direction: number, wide: number): string {
  const at = (angle: number) => {
    const turn = ((direction + angle) * Math.PI) / 180
    return `${(Math.sin(turn) * length).toFixed(2)} ${(-Math.cos(turn) * length).toFixed(2)}`
  }
  return `M0 0L${at(-wide)}A${length} ${length} 0 0 1 ${at(wide)}Z`
}
