import type { LatestReading, Signal } from '@jaunty-sparrow/contract'
import type { Presence } from '@jaunty-sparrow/core/presence'
import { useCallback, useEffect, useRef, useSyncExternalStore } from 'react'
import { live } from '../live/connection.ts'
import { latestOf, liveValues } from '../live/useLive.ts'

/** What several signals say just now, live as long as they are shown; the same list until one of them changes. */
export function useSignals(
  signals: readonly Signal[],
): readonly { readonly latest: LatestReading | null; readonly presence: Presence }[] {
  const key = signals.map(({ id }) => id).join()
  useEffect(() => live.want(key === '' ? [] : key.split(',').map(Number)), [key])
  const listen = useCallback(
    (changed: () => void) => {
      const release = (key === '' ? [] : key.split(',')).map((id) => liveValues.onSignal(Number(id), changed))
      return () => {
        for (const each of release) each()
      }
    },
    [key],
  )
  const told = useRef<readonly { latest: LatestReading | null; presence: Presence }[]>([])
  return useSyncExternalStore(listen, () => {
    const next = signals.map((signal) => ({
      latest: latestOf(signal),
      presence: liveValues.signalPresence(signal.id) ?? signal.presence,
    }))
    const isSame =
      next.length === told.current.length &&
      next.every(
        ({ latest, presence }, place) =>
          latest === told.current[place]?.latest && presence === told.current[place]?.presence,
      )
    if (!isSame) told.current = next
    return told.current
  })
}
