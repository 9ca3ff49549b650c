import type { ReactNode } from 'react'
import { fitText, type ShownNote, textWidth } from '../instrument/index.ts'

export interface NoteFlagsProps {
  readonly notes: readonly ShownNote[]
  /** What is drawn, epoch ms. */
  readonly from: number
  readonly to: number
  readonly x: (at: number) => number
  /** px */
  readonly top: number
  readonly bottom: number
  readonly right: number
}

const longest = 110

/** Notes: ink flags on a pole, swallow-tailed. */
export const NoteFlags = ({ notes, from, to, x, top, bottom, right }: NoteFlagsProps): ReactNode =>
  notes
    .filter(({ at }) => at >= from && at <= to)
    .map(({ id, at, says }) => {
      const pole = x(at)
      const words = fitText(says, longest, 11)
      const length = textWidth(words, 11) + 14
      // A flag flies to the side on which there is room.
      const side = pole + length > right ? -1 : 1
      return (
        <g key={id} data-note={id} transform={`translate(${pole.toFixed(1)} ${top})`}>
          <title>{says}</title>
          <path d={`M0 0V${bottom - top}`} stroke="var(--ink)" />
          <path
            d={`M0 0H${side * length}L${side * (length - 5)} 7.5L${side * length} 15H0Z`}
            fill="var(--paper)"
            stroke="var(--ink)"
          />
          <text x={side === 1 ? 4 : -length + 9} y={11.5} fontSize={11} fill="var(--ink)">
            {words}
          </text>
        </g>
      )
    })
