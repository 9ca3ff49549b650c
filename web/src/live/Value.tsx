import type { LatestReading, Signal } from '@jaunty-sparrow/contract'
import { hasQuality, Quality, shownDecimals, shownValue } from '@jaunty-sparrow/core/signal'
import { unitSymbol } from '@jaunty-sparrow/core/units'
import { valueText } from '../language/valueText.ts'
import { clockOf } from '../time/clock.ts'
import { useLatest } from './useLive.ts'

export type ValueSize = 'row' | 'instrument' | 'hero'

interface ValueProps {
  readonly signal: Signal
  /** How many decimals the signal uses; without it, those of this one value. */
  readonly decimals?: number | undefined
  readonly size?: ValueSize
}

/** What is to be known of a value before it is trusted, in a word. */
const marks = [
  [Quality.beyondRange, 'beyond range'],
  [Quality.tooFast, 'changed too fast'],
  [Quality.clockDoubted, 'clock doubted'],
  [Quality.markedBad, 'marked bad'],
] as const

/** A signal's latest value with its unit, and what is to be known of it. */
export function Value({ signal, decimals, size = 'row' }: ValueProps) {
  const latest = useLatest(signal)
  if (!latest) {
    return (
      <span className="text-ink-soft">
        {signal.kind === 'momentary' ? 'to be triggered' : 'no value yet'}
      </span>
    )
  }
  const unit = signal.shownAs?.unit ?? signal.unit
  const look = size === 'row' ? 'text-lg' : largeLook(latest, size)
  return (
    <span className="inline-flex max-w-full flex-wrap items-baseline gap-x-1">
      <span className={`${look} font-semibold`} data-testid={`value-${signal.field}`}>
        {textOf(signal, latest, decimals)}
      </span>
      {unit && !isFault(latest) && (
        <span className={`${size === 'row' ? 'text-sm' : 'text-lg'} text-ink-soft`}>{unitSymbol(unit)}</span>
      )}
      {isFault(latest) && <Mark says="at fault" />}
      {marks.map(([bit, says]) => hasQuality(latest.quality, bit) && <Mark key={says} says={says} />)}
      {signal.doubt && <Mark says="doubtful" why={signal.doubt.why} />}
      <Passed signal={signal} latest={latest} />
    </span>
  )
}

const isFault = ({ quality }: LatestReading): boolean => hasQuality(quality, Quality.atFault)

/** A fault is told by its name: the number it was sent as means nothing. */
function textOf(signal: Signal, latest: LatestReading, decimals: number | undefined): string {
  if (isFault(latest)) {
    return signal.faults.find(({ value }) => value === latest.value)?.name ?? 'fault'
  }
  const { value } = latest
  return valueText(
    typeof value === 'number' ? shownValue(value, signal) : value,
    signal,
    shownDecimals(signal.decimals ?? decimals ?? null, signal) ?? undefined,
  )
}

/** Long words and places take less room than a number may. */
const largeLook = ({ value }: LatestReading, size: ValueSize): string =>
  typeof value === 'number'
    ? `${size === 'hero' ? 'text-4xl' : 'text-3xl'} tracking-tight`
    : 'text-xl leading-snug break-words'

const Mark = ({ says, why }: { says: string; why?: string }) => (
  <span
    title={why}
    className="ml-1 self-center rounded-sm border border-late px-1 text-xs font-semibold whitespace-nowrap text-late"
  >
    {says}
  </span>
)

/** A state that came and went between two looks would else have left no trace. */
function Passed({ signal, latest }: { signal: Signal; latest: ReturnType<typeof useLatest> }) {
  if (signal.kind !== 'switch' && signal.kind !== 'choice') return null
  if (!latest || !('passed' in latest) || !latest.passed) return null
  return (
    <span className="ml-1 self-center text-xs text-ink-soft">
      was {valueText(latest.passed.value, signal)} at {clockOf(latest.passed.at)}
    </span>
  )
}
