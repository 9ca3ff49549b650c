import type { ReactNode } from 'react'
import type { Silence } from './silences.ts'

export interface SilencePostsProps {
  readonly silences: readonly Silence[]
  readonly x: (at: number) => number
  readonly top: number
  readonly bottom: number
}

/** Silence: empty paper between two dotted posts. */
export const SilencePosts = ({ silences, x, top, bottom }: SilencePostsProps): ReactNode =>
  silences.map(({ from, to }) => (
    <path
      key={from}
      data-silence
      d={`M${x(from)} ${top}V${bottom}M${x(to)} ${top}V${bottom}`}
      stroke="var(--rule-strong)"
      strokeDasharray="1 4"
      strokeLinecap="round"
    />
  ))
