import { useState } from 'react'
import type { Stretch } from '../signals/view.ts'
import { useBeat } from '../time/clock.ts'

const minute = 60_000
const day = 24 * 60 * minute

export interface StripDay {
  /** When the day that the strip shows ends, epoch ms. */
  readonly to: number
  readonly isToday: boolean
  /** Goes back or on by days, but not beyond today. */
  readonly turn: (days: number) => void
}

/** Which day a strip shows: the last 24 hours, the ones around what is looked at, or where somebody has turned to. */
export function useStripDay(looked: Stretch | undefined): StripDay {
  const now = useBeat(minute) + minute
  const key = looked ? `${looked.from} ${looked.to}` : ''
  const [turned, setTurned] = useState({ key, to: 0 })
  const middle = looked ? (looked.from + looked.to) / 2 : now
  const around = middle > now - day ? now : Math.min(now, Math.ceil((middle + day / 2) / minute) * minute)
  const to = turned.key === key && turned.to > 0 ? turned.to : around
  return {
    to,
    isToday: to === now,
    turn: (days) => {
      const next = to + days * day
      setTurned({ key, to: next >= now ? 0 : next })
    },
  }
}
