import type { Trace } from '@jaunty-sparrow/contract'
import throttle from 'lodash-es/throttle.js'
import { useEffect, useMemo } from 'react'
import { live } from '../live/connection.ts'
import { liveTails } from '../live/useLive.ts'
import { useBeat } from '../time/clock.ts'
import { useTracesQuery } from './signalsApi.ts'
import { type Stretch, spans, stretchOf, type View } from './view.ts'

/** What a frame had no room for is fetched this long after, ms; a backlog comes in many frames. */
const catchUpAfter = 2000

/** How often a picture up to now is made anew, ms: in this time it moves by a pixel. */
const beatOf = (view: View, columns: number): number =>
  'span' in view ? Math.ceil(spans[view.span].length / columns / 1000) * 1000 : 1_000_000_000_000

export interface Traces {
  readonly traces: readonly Trace[] | undefined
  readonly error: unknown
  /** What the picture shows; up to now with room for what comes until it is made anew. */
  readonly shown: Stretch
}

/**
 * The course of signals; one up to now grows with what comes in as long as somebody looks.
 * @param columns pixel columns that each is drawn on
 * @param beat how often the picture is made anew, ms
 */
export function useTraces(
  signals: readonly number[],
  columns: number,
  view: View,
  beat = beatOf(view, columns),
): Traces {
  const { data, error, refetch } = useTracesQuery({ signals, columns, view }, { skip: signals.length === 0 })
  const now = useBeat(beat)
  const key = signals.join()
  const isLive = 'span' in view
  useEffect(() => {
    const followed = key === '' || !isLive ? [] : key.split(',').map(Number)
    const fetchAgain = throttle(() => void refetch(), catchUpAfter, { leading: false })
    const release = [
      live.want(followed),
      liveTails.follow(followed),
      liveTails.onSkipped((skipped) => followed.some((signal) => skipped.has(signal)) && fetchAgain()),
      fetchAgain.cancel,
    ]
    return () => {
      for (const each of release) each()
    }
  }, [key, isLive, refetch])
  const { from, to } = stretchOf(view, now)
  const shown = useMemo(() => ({ from, to: isLive ? to + beat : to }), [from, to, isLive, beat])
  const traces = useMemo(
    () =>
      isLive
        ? data?.map((trace) => ({ ...trace, points: liveTails.joined(trace.signal, trace.points, from) }))
        : data,
    [data, from, isLive],
  )
  return { traces, error, shown }
}
