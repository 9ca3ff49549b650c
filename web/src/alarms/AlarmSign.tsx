import type { StandingAlarm } from '@jaunty-sparrow/contract'
import type { Occasion } from '@jaunty-sparrow/core/signal'
import type { ReactNode } from 'react'

/** What each occasion is drawn as, on twelve by twelve. */
const shapes: Readonly<Record<Occasion['by'], ReactNode>> = {
  limit: <path d="M6 1 11.5 11H.5Z" />,
  rate: <path d="M1 11 5 6 6 8 11 1" fill="none" strokeWidth={1.75} />,
  silence: <circle cx={6} cy={6} r={4.5} fill="none" strokeWidth={1.5} strokeDasharray="2 2.2" />,
  fault: <path d="M2 2 10 10M10 2 2 10" fill="none" strokeWidth={2} />,
  state: <path d="M1.5 1.5H10.5V10.5H1.5Z" />,
  formula: <path d="M6 .5 11.5 6 6 11.5 .5 6Z" />,
}

/** A crescent: it rests. */
const resting = <path d="M8.5 1A5.2 5.2 0 1 0 11 8.5 4.4 4.4 0 0 1 8.5 1Z" />

/** The sign of an alarm: its shape says what is the case, its colour whether it waits for somebody. */
export function AlarmSign({
  alarm: { alarm, state },
  className = '',
}: {
  readonly alarm: Pick<StandingAlarm, 'alarm' | 'state'>
  readonly className?: string
}) {
  const { occasion } = alarm
  const isAside = state === 'shelved' || state === 'suppressed' || state === 'out-of-service'
  const isOpen = state === 'unacknowledged' || state === 'acknowledged'
  const colour = !isOpen ? 'text-ink-soft' : occasion.by === 'silence' ? 'text-late' : 'text-trouble'
  const isLow = occasion.by === 'limit' && (occasion.limit === 'low' || occasion.limit === 'lowLow')
  return (
    <svg
      viewBox="0 0 12 12"
      aria-hidden="true"
      className={`size-3.5 shrink-0 ${colour} ${className}`}
      fill={state === 'acknowledged' ? 'none' : 'currentColor'}
      stroke="currentColor"
      strokeWidth={state === 'acknowledged' ? 1.5 : 0}
      strokeLinejoin="round"
    >
      {isAside ? resting : <g transform={isLow ? 'rotate(180 6 6)' : undefined}>{shapes[occasion.by]}</g>}
    </svg>
  )
}
