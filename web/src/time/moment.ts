import { useCallback, useEffect } from 'react'
import { useSearchParams } from 'react-router'
import { serverNow, useBeat } from './clock.ts'
import { Shared, useShared } from './shared.ts'

/** How many times faster than it was the past can be played. */
export const speeds = [1, 10, 60, 600] as const
export type Speed = (typeof speeds)[number]

interface Playing {
  /** From which moment on, and when that was pressed, epoch ms. */
  readonly from: number
  readonly since: number
  readonly speed: Speed
}

const never = Number.MAX_SAFE_INTEGER

const playing = new Shared<Playing | undefined>(undefined)

/** The moment that a page shows, and how one goes through the past. */
export interface Moment {
  /** Epoch ms; undefined for now. */
  readonly at: number | undefined
  readonly speed: Speed | undefined
  readonly show: (at: number) => void
  readonly play: (speed: Speed) => void
  readonly pause: () => void
  readonly live: () => void
}

/** The moment in the address bar, so that it can be shared and gone back from; while it is played it runs on from there. */
export function useMoment(): Moment {
  const [params, setParams] = useSearchParams()
  const stated = Number(params.get('at'))
  const run = useShared(playing)
  // As long as nothing is played no page that shows a moment is drawn anew by the clock.
  const now = useBeat(run ? 1000 : never)
  const from = params.has('at') && Number.isInteger(stated) && stated > 0 ? stated : undefined
  const reached = run && from !== undefined ? Math.round(run.from + (now - run.since) * run.speed) : from
  const at = reached === undefined ? undefined : Math.max(reached, from ?? 0)
  const set = useCallback(
    (moment: number | undefined) =>
      setParams(
        (before) => {
          const next = new URLSearchParams(before)
          if (moment === undefined) next.delete('at')
          else next.set('at', String(Math.round(moment)))
          return next
        },
        { preventScrollReset: true },
      ),
    [setParams],
  )
  const live = useCallback(() => {
    playing.set(undefined)
    set(undefined)
  }, [set])
  const hasCaughtUp = at !== undefined && run !== undefined && at >= serverNow()
  useEffect(() => {
    if (hasCaughtUp) live()
  }, [hasCaughtUp, live])
  return {
    at: hasCaughtUp ? undefined : at,
    speed: run?.speed,
    show: (moment) => {
      if (run) playing.set({ ...run, from: moment, since: serverNow() })
      set(moment)
    },
    play: (speed) => at !== undefined && playing.set({ from: at, since: serverNow(), speed }),
    pause: () => {
      playing.set(undefined)
      set(at)
    },
    live,
  }
}
