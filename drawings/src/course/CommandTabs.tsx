import type { ReactNode } from 'react'
import type { ShownNote } from '../instrument/index.ts'

interface CommandTabsProps {
  readonly commands: readonly ShownNote[]
  /** What is drawn, epoch ms. */
  readonly from: number
  readonly to: number
  readonly x: (at: number) => number
  /** Where time runs along, px. */
  readonly foot: number
}

/** When something was asked for: a hollow tab below the line of time, as below a scale. */
export const CommandTabs = ({ commands, from, to, x, foot }: CommandTabsProps): ReactNode =>
  commands
    .filter(({ at }) => at >= from && at <= to)
    .map(({ id, at, says }) => (
      <path
        key={id}
        data-command={id}
        transform={`translate(${x(at).toFixed(1)} ${foot})`}
        d="M0 1L4 5V10H-4V5Z"
        fill="var(--paper)"
        stroke="var(--ink)"
      >
        <title>{says}</title>
      </path>
    ))
