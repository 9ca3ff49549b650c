import type { Device, Signal, Trace } from '@jaunty-sparrow/contract'
import { describeAge, formatValue, isLate, unitSymbol } from '@jaunty-sparrow/core'
import { Pencil } from 'lucide-react'
import { lazy, Suspense, useState } from 'react'
import { Skeleton } from '../design/Skeleton.tsx'
import { useNow } from '../time/clock.ts'
import { loadTraceChart } from './loadTraceChart.ts'
import { SignalSheet } from './SignalSheet.tsx'
import { traceSpan } from './signalsApi.ts'
import { storedEvery } from './storedEvery.ts'
import { gapOf } from './tracePath.ts'
import { summarize } from './traceSummary.ts'
import { Value } from './Value.tsx'

const TraceChart = lazy(loadTraceChart)

/** An hour on some hundred pixels moves by less than one in this time, so the picture need not be drawn more often. */
const redrawEvery = 3000

interface SignalTrackProps {
  readonly device: Device
  readonly signal: Signal
  readonly trace: Trace | undefined
  readonly timeZone: string
  readonly canChange: boolean
}

/** One signal of a device: its value now, how old that is, and its last hour. */
export function SignalTrack({ device, signal, trace, timeZone, canChange }: SignalTrackProps) {
  const now = useNow()
  const [editing, setEditing] = useState(false)
  const cadence = device.cadence?.seconds ?? null
  const summary = summarize(trace)
  const late = signal.latest !== null && isLate(signal.latest.at, now, cadence)
  return (
    <section
      aria-label={signal.name}
      className="grid gap-x-6 gap-y-2 border-t border-rule py-4 md:grid-cols-[13rem_1fr]"
    >
      <div className="grid content-start gap-1">
        <h3 className="flex items-center gap-1 font-sans text-sm font-semibold tracking-normal text-ink-soft">
          {signal.name}
          {canChange && (
            <button
              type="button"
              onClick={() => setEditing(true)}
              aria-label={`Change ${signal.name}`}
              className="rounded p-1.5 hover:bg-well hover:text-chestnut"
            >
              <Pencil aria-hidden="true" className="size-3.5" />
            </button>
          )}
        </h3>
        <p className={late ? 'text-ink-soft' : ''}>
          <Value signal={signal} decimals={summary?.decimals} size="hero" />
        </p>
        <p className={`text-sm ${late ? 'font-semibold text-late' : 'text-ink-soft'}`}>
          {signal.latest
            ? `${late ? 'late, ' : ''}${describeAge(now - signal.latest.at)}`
            : 'nothing measured yet'}
        </p>
        {summary && signal.kind === 'number' && (
          <p className="text-sm text-ink-soft">
            {formatValue(summary.low, 'number', summary.decimals)} to{' '}
            {formatValue(summary.high, 'number', summary.decimals)} {signal.unit && unitSymbol(signal.unit)}{' '}
            in the hour
          </p>
        )}
      </div>
      <Chart
        trace={trace}
        signal={signal}
        gap={gapOf(storedEvery(signal, cadence))}
        timeZone={timeZone}
        now={Math.floor(now / redrawEvery) * redrawEvery}
      />
      {editing && (
        <SignalSheet
          signal={signal}
          deviceId={device.id}
          sharedKit={device.kit.name}
          onClose={() => setEditing(false)}
        />
      )}
    </section>
  )
}

interface ChartProps {
  readonly trace: Trace | undefined
  readonly signal: Signal
  readonly gap: number
  readonly timeZone: string
  readonly now: number
}

function Chart({ trace, signal, gap, timeZone, now }: ChartProps) {
  const height = signal.kind === 'switch' ? 'h-[84px]' : 'h-[148px]'
  // The picture follows the clock of the page, not each reading: it takes what is there whenever it is redrawn.
  const drawn = useHeld(trace, now)
  const heldSignal = useHeld(signal, now)
  if (!drawn) return <Skeleton className={height} />
  return (
    <div className={height}>
      <Suspense fallback={<Skeleton className={height} />}>
        <TraceChart
          signal={heldSignal}
          points={drawn.points}
          from={now - traceSpan}
          to={now + redrawEvery}
          gap={gap}
          timeZone={timeZone}
        />
      </Suspense>
    </div>
  )
}

/** Holds a value still until `beat` changes, or until there is one at all. */
function useHeld<T>(value: T, beat: number): T {
  const [held, setHeld] = useState({ value, beat })
  if (held.beat !== beat || (held.value === undefined && value !== undefined)) {
    setHeld({ value, beat })
    return value
  }
  return held.value
}
