import type { Signal } from '@jaunty-sparrow/contract'
import { type Needs, spanLengths } from '@jaunty-sparrow/drawings/instrument'
import { useEffect, useMemo, useState } from 'react'
import { liveValues } from '../live/useLive.ts'
import { useLastReadingsQuery } from '../signals/signalsApi.ts'
import { useBeat } from '../time/clock.ts'

type ShownReading = NonNullable<ReturnType<typeof useLastReadingsQuery>['data']>[number]

/** What is missed between two frames is asked for so often, ms. */
const renewed = 30_000

/**
 * Single readings of signals, up to a moment; those that come are added as they come.
 * @param moment epoch ms; undefined for now
 * @param length of the span of the page, ms; undefined where an instrument has its own
 */
export function useLastReadings(
  signals: readonly Signal[],
  readings: Needs['readings'],
  moment: number | undefined,
  length: number | undefined,
): ReadonlyMap<number, readonly ShownReading[]> {
  const beat = useBeat(renewed)
  const key = readings ? signals.map(({ id }) => id).join() : ''
  const to = moment ?? beat + 2 * renewed
  const { most = 1, span } = readings ?? {}
  const from = span === undefined ? undefined : to - (length ?? spanLengths[span])
  const { data } = useLastReadingsQuery(
    { signals: key, to, most, ...(from !== undefined && { from }) },
    { skip: key === '' },
  )
  const [heard, setHeard] = useState<readonly ShownReading[]>([])
  useEffect(() => {
    if (key === '' || moment !== undefined) return
    const release = key.split(',').map((text) => {
      const signal = Number(text)
      return liveValues.onSignal(signal, () => {
        const value = liveValues.value(signal)
        if (value) setHeard((before) => [...before.slice(-most), { signal, ...value }])
      })
    })
    return () => {
      for (const each of release) each()
      setHeard([])
    }
  }, [key, moment, most])
  return useMemo(() => {
    const bySignal = new Map<number, Map<number, ShownReading>>()
    for (const reading of [...(data ?? []), ...heard]) {
      const own = bySignal.get(reading.signal) ?? new Map<number, ShownReading>()
      bySignal.set(reading.signal, own.set(reading.at, reading))
    }
    return new Map(
      [...bySignal].map(([signal, own]) => [
        signal,
        [...own.values()].sort((one, other) => one.at - other.at).slice(-most),
      ]),
    )
  }, [data, heard, most])
}
