import type { Signal, Trace } from '@jaunty-sparrow/contract'
import { proposeInstrument, roseOf, scaleOf } from '@jaunty-sparrow/core/instrument'
import { limitStateOf, shownDecimals, shownSignal, shownValue } from '@jaunty-sparrow/core/signal'
import { unitSymbol } from '@jaunty-sparrow/core/units'
import { Compass } from '@jaunty-sparrow/drawings/compass'
import { Scale, scaleHeight } from '@jaunty-sparrow/drawings/scale'
import { StateBar, stateBarHeight, stateSpans } from '@jaunty-sparrow/drawings/states'
import { ticks } from 'd3-array'
import { useMemo } from 'react'
import { Link } from 'react-router'
import { Sparkline } from '../design/Sparkline.tsx'
import { signalTitle } from '../language/signalTitle.ts'
import { valueText } from '../language/valueText.ts'
import { PresenceWord } from '../live/PresenceWord.tsx'
import { useLatest, useSignalPresence } from '../live/useLive.ts'
import { ExplainedValue } from '../signals/ExplainedValue.tsx'
import { summarize } from '../signals/traceSummary.ts'
import type { Stretch } from '../signals/view.ts'
import { limitWords } from './limitWords.ts'

interface SignalInstrumentProps {
  readonly signal: Signal
  /** Where the page is on which there is more of it. */
  readonly to: string
  readonly trace: Trace | undefined
  readonly shown: Stretch
  /** Longer silences, ms, are gaps. */
  readonly gap: number
  readonly timeZone: string
  /** How wide its drawing may be, px. */
  readonly width: number
}

/** Room for a number below a scale, px. */
const roomForLabel = 56

/** A drawing is not drawn out further than it reads well, px. */
const widest = 230

/** One signal: what it is called, what it is now, how that stands to what it should be, and where it came from. */
export function SignalInstrument({ signal, to, trace, shown, gap, timeZone, width }: SignalInstrumentProps) {
  const presence = useSignalPresence(signal)
  const latest = useLatest(signal)
  const summary = summarize(trace)
  const beyond =
    typeof latest?.value === 'number' && signal.kind === 'number'
      ? limitStateOf(latest.value, signal.limits)
      : null
  const drawn = { signal, trace, shown, gap, width: Math.min(widest, Math.floor(width)) }
  const { kind } = proposeInstrument(signal)
  return (
    <div className="grid min-w-0 content-start gap-0.5 py-2.5">
      <p className="flex min-w-0 items-baseline gap-2 text-sm text-ink-soft">
        <Link to={to} className="truncate hover:text-chestnut hover:underline">
          {signalTitle(signal)}
        </Link>
        {presence !== 'never' && presence !== 'asleep' && <PresenceWord presence={presence} />}
      </p>
      <div className={beyond ? 'text-trouble' : ''}>
        <ExplainedValue signal={signal} timeZone={timeZone} decimals={summary?.decimals} size="instrument" />
      </div>
      {beyond && signal.limits?.[beyond] != null && (
        <p className="text-sm font-semibold text-trouble">
          {limitWords[beyond]} · limit{' '}
          {valueText(
            shownValue(signal.limits[beyond], signal),
            signal,
            shownDecimals(signal.decimals, signal),
          )}
        </p>
      )}
      {kind === 'compass' ? (
        <SignalCompass {...drawn} />
      ) : kind === 'scale' ? (
        <SignalScale {...drawn} />
      ) : kind === 'states' && signal.kind === 'switch' ? (
        <SignalStates {...drawn} />
      ) : (
        <Sparkline
          points={trace?.points ?? noPoints}
          from={shown.from}
          to={shown.to}
          gap={gap}
          stepped={signal.kind !== 'number'}
        />
      )}
    </div>
  )
}

const noPoints: Trace['points'] = []
const noSpans: ReturnType<typeof stateSpans> = []

/** With the one before the hour, which holds into it. */
const heldPoints = ({ before, points }: Trace) => (before ? [before, ...points] : points)

interface DrawnProps extends Pick<SignalInstrumentProps, 'signal' | 'trace' | 'shown' | 'gap' | 'width'> {}

function SignalScale({ signal, trace, width }: DrawnProps) {
  const latest = useLatest(signal)
  const drawn = shownSignal(signal)
  const scale = scaleOf(drawn)
  if (!scale) return null
  const summary = summarize(trace)
  const before = trace?.points[0]?.[1]
  const unit = drawn.unit ? ` ${unitSymbol(drawn.unit)}` : ''
  return (
    <svg
      width={width}
      height={scaleHeight}
      role="img"
      aria-label={`Scale from ${scale.low} to ${scale.high}${unit}`}
    >
      <Scale
        low={scale.low}
        high={scale.high}
        ticks={ticks(scale.low, scale.high, Math.floor(width / roomForLabel)).map((value) => ({
          value,
          label: valueText(value, drawn),
        }))}
        limits={drawn.limits}
        value={typeof latest?.value === 'number' ? shownValue(latest.value, signal) : undefined}
        before={before === undefined ? undefined : shownValue(before, signal)}
        span={summary && { low: shownValue(summary.low, signal), high: shownValue(summary.high, signal) }}
        width={width}
      />
    </svg>
  )
}

/** As large as a compass reads well, px. */
const compassSize = 128

function SignalCompass({ signal, trace }: DrawnProps) {
  const latest = useLatest(signal)
  const rose = useMemo(() => roseOf((trace?.points ?? noPoints).map(([, value]) => value)), [trace])
  const direction = typeof latest?.value === 'number' ? latest.value : undefined
  return (
    <svg
      width={compassSize}
      height={compassSize}
      role="img"
      aria-label={`Where ${signalTitle(signal)} comes from, and came from in the last hour`}
    >
      <Compass direction={direction} rose={rose} size={compassSize} />
    </svg>
  )
}

/** What is not there yet has its room, so that nothing jumps when it comes. */
const SignalStates = ({ signal, trace, shown, gap, width }: DrawnProps) => (
  <svg
    width={width}
    height={stateBarHeight}
    role="img"
    aria-label={`When ${signalTitle(signal)} was on in the last hour`}
  >
    <StateBar
      spans={trace ? stateSpans(heldPoints(trace), shown.to, gap) : noSpans}
      from={shown.from}
      to={shown.to}
      width={width}
    />
  </svg>
)
