import type { ReactNode } from 'react'
import { acrossAt, type VesselForm } from './shapes.ts'

export interface VesselProps {
  readonly form: VesselForm
  /** How high what is in it stands, of 1; undefined where nothing is known. */
  readonly level: number | undefined
  readonly ticks: readonly { readonly share: number; readonly label: string }[]
  /** Where limits stand, of 1, and to which side is allowed. */
  readonly limits: readonly { readonly share: number; readonly isFloor: boolean }[]
  /** px, the vessel without its ruler */
  readonly width: number
  readonly height: number
}

const apart = 5
/** Room for the ruler beside it, px. */
export const rulerWidth = 40

/** A vessel filled with level lines, with its ruler and the notches of its limits. */
export function Vessel({ form, level, ticks, limits, width, height }: VesselProps): ReactNode {
  const y = (share: number) => (1 - Math.min(1, Math.max(0, share))) * height
  const surface = level === undefined ? undefined : y(level)
  const line = (at: number) => {
    const [left, right] = acrossAt(form, 1 - at / height, width)
    return `M${left.toFixed(1)} ${at.toFixed(1)}H${right.toFixed(1)}`
  }
  const lines: number[] = []
  if (surface !== undefined)
    for (let at = height - apart; at > surface + 1; at -= apart) lines.push(Math.round(at) + 0.5)
  return (
    <g transform={`translate(${rulerWidth} 4)`}>
      {ticks.map(({ share, label }) => (
        <g key={share} transform={`translate(0 ${y(share).toFixed(1)})`}>
          <path d="M-5 0H0" stroke="var(--ink)" />
          <text x={-9} y={4} fontSize={11} textAnchor="end" fill="var(--ink-soft)">
            {label}
          </text>
        </g>
      ))}
      <path d={`M0 0V${height}`} stroke="var(--ink)" strokeWidth={0.75} />
      <path d={lines.map(line).join('')} stroke="var(--ink)" strokeWidth={0.9} />
      {surface !== undefined && <path data-level d={line(surface)} stroke="var(--ink)" strokeWidth={2} />}
      <path d={form.outline(width, height)} fill="none" stroke="var(--ink)" strokeWidth={1.25} />
      {limits.map(({ share, isFloor }) => (
        <path
          key={`${share} ${isFloor}`}
          data-limit
          transform={`translate(0 ${y(share).toFixed(1)})`}
          d={`M0 0H9L0 ${isFloor ? -6 : 6}Z`}
          fill="var(--ink)"
          stroke="var(--paper)"
          strokeWidth={0.5}
        />
      ))}
    </g>
  )
}
