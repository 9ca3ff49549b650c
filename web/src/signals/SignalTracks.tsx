import type { Device, Past, Signal } from '@jaunty-sparrow/contract'
import { useEffect } from 'react'
import { useRaised } from '../alarms/useRaised.ts'
import { problemText } from '../api/problemText.ts'
import { Notice } from '../design/Notice.tsx'
import { isDrawn } from './isDrawn.ts'
import { type ChangeSheet, chartColumns, SignalTrack } from './SignalTrack.tsx'
import { SpanBar } from './SpanBar.tsx'
import { moving } from './useChartHand.ts'
import { useTraces } from './useTraces.ts'
import { useView } from './useView.ts'

interface SignalTracksProps {
  readonly signals: readonly Signal[]
  /** Undefined where they are shown to strangers. */
  readonly device?: Device
  readonly timeZone: string
  /** How far back one may look. */
  readonly past: Past
  readonly changeSheet?: ChangeSheet | undefined
}

const none: never[] = []

/** Signals one below the other, all over the same span. */
export function SignalTracks({ signals, device, timeZone, past, changeSheet }: SignalTracksProps) {
  const [view, show] = useView()
  const ids = signals.filter(isDrawn).map(({ id }) => id)
  const { traces, error, shown } = useTraces(ids, chartColumns, view)
  const raised = useRaised(device, shown)
  useEffect(() => () => moving.set(undefined), [])
  return (
    <section aria-label="Signals" className="@container grid">
      {past !== 'none' && (
        <SpanBar
          view={view}
          shown={shown}
          show={show}
          signals={ids}
          timeZone={timeZone}
          isLimited={past === 'day'}
        />
      )}
      {error !== undefined && <Notice tone="trouble" title={problemText(error)} />}
      {signals.map((signal) => (
        <SignalTrack
          key={signal.id}
          device={device}
          signal={signal}
          trace={traces?.find((trace) => trace.signal === signal.id)}
          timeZone={timeZone}
          shown={shown}
          view={view}
          show={show}
          changeSheet={changeSheet}
          alarms={raised.get(signal.id) ?? none}
        />
      ))}
    </section>
  )
}
