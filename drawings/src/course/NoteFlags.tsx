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
/** How long a flag is that has no room for words, px. */
const short = 10

interface Flag {
  readonly note: ShownNote
  readonly pole: number
  /** To which side it flies, and how far, px. */
  readonly side: 1 | -1
  readonly length: number
  readonly words: string
}

/** Where flags fly: to the side on which there is room, without words where they would lie over another. */
function flagsOf({ notes, from, to, x, right }: NoteFlagsProps): Flag[] {
  const flags: Flag[] = []
  const poles = notes.filter(({ at }) => at >= from && at <= to).sort((one, other) => one.at - other.at)
  for (const [place, note] of poles.entries()) {
    const pole = x(note.at)
    const words = fitText(note.says, longest, 11)
    const length = textWidth(words, 11) + 14
    const next = poles[place + 1]
    const end = next ? Math.min(right, x(next.at)) : right
    const before = flags.at(-1)
    const taken = before ? Math.max(before.pole, before.pole + before.side * before.length) : -Infinity
    if (pole + length <= end) flags.push({ note, pole, side: 1, length, words })
    else if (pole - length >= taken) flags.push({ note, pole, side: -1, length, words })
    else flags.push({ note, pole, side: pole + short <= right ? 1 : -1, length: short, words: '' })
  }
  return flags
}

/** Notes: ink flags on a pole, swallow-tailed. */
export const NoteFlags = (props: NoteFlagsProps): ReactNode =>
  flagsOf(props).map(({ note: { id, says }, pole, side, length, words }) => (
    <g key={id} data-note={id} transform={`translate(${pole.toFixed(1)} ${props.top})`}>
      <title>{says}</title>
      <path d={`M0 0V${props.bottom - props.top}`} stroke="var(--ink)" />
      <path
        d={`M0 0H${side * length}L${side * (length - 5)} 7.5L${side * length} 15H0Z`}
        fill="var(--paper)"
        stroke="var(--ink)"
      />
      <text x={side === 1 ? 4 : -length + 9} y={11.5} fontSize={11} fill="var(--ink)">
        {words}
      </text>
    </g>
  ))
