import type { Device, Signal, Trace } from '@jaunty-sparrow/contract'
import type { Presence } from '@jaunty-sparrow/core/presence'
import {
  gapOf,
  secondsOf,
  shownDecimals,
  shownSignal,
  shownValue,
  signalTitle,
  storedEvery,
} from '@jaunty-sparrow/core/signal'
import { describeAge } from '@jaunty-sparrow/core/time'
import { unitSymbol } from '@jaunty-sparrow/core/units'
import type { RaisedAlarm } from '@jaunty-sparrow/drawings/chart'
import { Pencil } from 'lucide-react'
import { lazy, type ReactNode, Suspense, useMemo, useState } from 'react'
import { wakesAt } from '../commands/wakesAt.ts'
import { Skeleton } from '../design/Skeleton.tsx'
import { useIsInSight } from '../design/useIsInSight.ts'
import { valueText } from '../language/valueText.ts'
import { PresenceWord } from '../live/PresenceWord.tsx'
import { latestOf, useSignalPresence } from '../live/useLive.ts'
import { Value } from '../live/Value.tsx'
import { useMay } from '../people/useMay.ts'
import { useNow } from '../time/clock.ts'
import { DoubtButton, DoubtNote } from './DoubtNote.tsx'
import { ExplainedValue } from './ExplainedValue.tsx'
import { isDrawn } from './isDrawn.ts'
import { loadTraceChart } from './loadTraceChart.ts'
import { OwnSettings } from './OwnSettings.tsx'
import { summarize, type TraceSummary } from './traceSummary.ts'
import type { Stretch, View } from './view.ts'

const Control = lazy(async () => ({ default: (await import('../commands/Control.tsx')).Control }))
const RulesOfSignal = lazy(async () => ({
  default: (await import('../rules/RulesOfSignal.tsx')).RulesOfSignal,
}))
const AlarmsOfSignal = lazy(async () => ({
  default: (await import('../alarms/AlarmsOfSignal.tsx')).AlarmsOfSignal,
}))
const TraceChart = lazy(loadTraceChart)
const ExplainSheet = lazy(async () => ({
  default: (await import('../explain/ExplainSheet.tsx')).ExplainSheet,
}))

/** Half as many again as the widest chart has pixels, as columns may be wider than asked for: no pixel goes without what happened in it. */
export const chartColumns = 1050

/** What a signal is changed with, opened; without it, it cannot be changed here. */
export type ChangeSheet = (signal: Signal, onClose: () => void) => ReactNode

interface SignalTrackProps {
  /** Undefined where it is shown to strangers. */
  readonly device: Device | undefined
  readonly signal: Signal
  readonly trace: Trace | undefined
  readonly timeZone: string
  /** What the charts show. */
  readonly shown: Stretch
  readonly view: View
  readonly show: (view: View) => void
  readonly changeSheet: ChangeSheet | undefined
  /** When alarms of it were raised. */
  readonly alarms: readonly RaisedAlarm[]
}

/** One signal of a device: its value now, how old that is, and its last hour. */
export function SignalTrack(props: SignalTrackProps) {
  const { device, signal, trace, view, changeSheet, timeZone } = props
  const [editing, setEditing] = useState(false)
  const [explained, setExplained] = useState<number>()
  const presence = useSignalPresence(signal)
  const cadence = secondsOf(signal.cadence ?? device?.cadence?.cadence ?? null)
  const summary = summarize(trace)
  const isCalm = presence === 'on-time' || presence === 'asleep' || presence === 'down'
  return (
    <section
      aria-label={signalTitle(signal)}
      className="grid gap-x-6 gap-y-2 [contain-intrinsic-block-size:auto_11rem] [content-visibility:auto] border-t border-rule py-4 @xl:grid-cols-[13rem_1fr]"
    >
      <div className="grid content-start gap-1">
        <h3 className="flex items-center gap-1 font-sans text-sm font-semibold tracking-normal text-ink-soft">
          {signalTitle(signal)}
          {changeSheet && (
            <button
              type="button"
              onClick={() => setEditing(true)}
              aria-label={`Change ${signalTitle(signal)}`}
              className="rounded p-1.5 hover:bg-well hover:text-chestnut"
            >
              <Pencil aria-hidden="true" className="size-3.5" />
            </button>
          )}
          {device && <OwnDoubt signal={signal} siteId={device.siteId} isNote={false} />}
        </h3>
        <p className={isCalm ? '' : 'text-ink-soft'}>
          {device ? (
            <ExplainedValue signal={signal} timeZone={timeZone} decimals={summary?.decimals} size="hero" />
          ) : (
            <Value signal={signal} decimals={summary?.decimals} size="hero" />
          )}
        </p>
        <Age signal={signal} presence={presence} isPast={!('span' in view)} />
        {summary && signal.kind === 'number' && (
          <p className="text-sm text-ink-soft">
            {rangeText(summary, signal)} {'span' in view ? `in the ${view.span}` : 'in what is shown'}
          </p>
        )}
        {device && 'span' in view && signal.origin === 'controlled' && (
          <Suspense>
            <Control signal={signal} siteId={device.siteId} wakesAt={wakesAt(device)} />
            <RulesOfSignal signal={signal} siteId={device.siteId} />
          </Suspense>
        )}
        {device && !signal.isFormer && (
          <Suspense>
            <AlarmsOfSignal signal={signal} siteId={device.siteId} />
          </Suspense>
        )}
        <OwnSettings signal={signal} canChange={changeSheet !== undefined} />
        {device ? (
          <OwnDoubt signal={signal} siteId={device.siteId} isNote />
        ) : (
          <DoubtNote signal={signal} canChange={false} />
        )}
      </div>
      {isDrawn(signal) && (
        <Chart
          {...props}
          gap={gapOf(storedEvery(signal, cadence))}
          explain={device ? setExplained : undefined}
        />
      )}
      <Suspense>
        {explained !== undefined && (
          <ExplainSheet
            signal={signal}
            at={explained}
            timeZone={timeZone}
            onClose={() => setExplained(undefined)}
          />
        )}
        {editing && changeSheet?.(signal, () => setEditing(false))}
      </Suspense>
    </section>
  )
}

function rangeText({ low, high, decimals }: TraceSummary, signal: Signal): string {
  const unit = signal.shownAs?.unit ?? signal.unit
  const [from, to] = [low, high].map((value) =>
    valueText(shownValue(value, signal), signal, shownDecimals(decimals, signal) ?? undefined),
  )
  return [from, 'to', to, ...(unit ? [unitSymbol(unit)] : [])].join(' ')
}

/** Strangers who look by a link are not asked who they are. */
function OwnDoubt({ signal, siteId, isNote }: { signal: Signal; siteId: number; isNote: boolean }) {
  const isOperator = useMay('operator', siteId)
  if (isNote) return <DoubtNote signal={signal} canChange={isOperator} />
  return isOperator && <DoubtButton signal={signal} />
}

interface AgeProps {
  readonly signal: Signal
  readonly presence: Presence
  /** Whether the chart beside it shows the past: then it is said that the value is not of then. */
  readonly isPast: boolean
}

function Age({ signal, presence, isPast }: AgeProps) {
  // Made anew every second, which is as often as it says something else.
  const now = useNow()
  const latest = latestOf(signal)
  if (!latest) return <p className="text-sm text-ink-soft">nothing measured yet</p>
  return (
    <p className="flex items-center gap-2 text-sm text-ink-soft">
      {isPast && 'now, '}
      {describeAge(now - latest.at)} <PresenceWord presence={presence} />
    </p>
  )
}

interface ChartProps
  extends Pick<SignalTrackProps, 'trace' | 'signal' | 'timeZone' | 'shown' | 'view' | 'show' | 'alarms'> {
  readonly gap: number
  /** Tells where the value at an instant, epoch ms, comes from. */
  readonly explain: ((at: number) => void) | undefined
}

function Chart({ trace, signal, gap, timeZone, shown, view, show, explain, alarms }: ChartProps) {
  const height = signal.kind === 'switch' ? 'h-[84px]' : 'h-[148px]'
  const [place, isInSight] = useIsInSight<HTMLDivElement>()
  // With its neighbours, to which the line goes on at both ends.
  const points = useMemo(
    () =>
      (trace ? [trace.before, ...trace.points, trace.after] : [])
        .filter((point) => point !== null)
        .map(([at, value]): [number, number] => [at, shownValue(value, signal)]),
    [trace, signal],
  )
  const drawn = useMemo(() => shownSignal(signal), [signal])
  return (
    // biome-ignore lint/a11y/useSemanticElements: it groups no fields of a form
    <div
      ref={place}
      className={`${height} touch-pan-y`}
      data-chart
      // biome-ignore lint/a11y/noNoninteractiveTabindex: with the focus it is moved and zoomed by keys
      tabIndex={0}
      role="group"
      aria-label={`Chart of ${signalTitle(signal)}: arrow keys move it, plus and minus zoom${explain ? ', Enter tells where a value comes from' : ''}`}
    >
      {trace && isInSight ? (
        <Suspense fallback={<Skeleton className={height} />}>
          <TraceChart
            signal={drawn}
            points={points}
            shown={shown}
            show={show}
            explain={explain}
            isLive={'span' in view}
            gap={Math.max(gap, trace.width)}
            column={trace.width}
            timeZone={timeZone}
            alarms={alarms}
          />
        </Suspense>
      ) : (
        <Skeleton className={height} />
      )}
    </div>
  )
}
