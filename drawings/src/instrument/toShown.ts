import type { Presence } from '@jaunty-sparrow/core/presence'
import {
  hasQuality,
  Quality,
  type ShownAs,
  type SignalDefinition,
  type SignalValue,
  shownSignal,
  shownValue,
  signalTitle,
} from '@jaunty-sparrow/core/signal'
import { between } from '@jaunty-sparrow/core/units'
import type { Point, ShownReading, ShownSignal, ShownTotal, ShownTrace } from './shown.ts'

/** A signal as it is told, in its own unit. */
export interface ToldSignal
  extends Pick<
    SignalDefinition,
    | 'name'
    | 'origin'
    | 'kind'
    | 'unit'
    | 'decimals'
    | 'range'
    | 'shown'
    | 'bands'
    | 'limits'
    | 'choices'
    | 'faults'
  > {
  readonly id: number
  readonly partName: string
  readonly doubt: { readonly why: string } | null
  readonly isCalibrated: boolean
}

interface Latest {
  readonly at: number
  readonly value: SignalValue
  readonly quality: number
}

/** What is known of a signal besides what it is. */
export interface Known {
  readonly device: string
  readonly latest: Latest | null
  readonly presence: Presence
  readonly asked: ShownSignal['asked']
  readonly trace: ShownTrace | null
  /** Single readings in its own unit, the oldest first. */
  readonly readings: readonly Latest[]
  readonly totals: readonly ShownTotal[]
}

/** In which unit an instrument shows a signal: its own, where it has one that measures the same; else that of whoever looks. */
export function seenAs(
  signal: { readonly unit: string | null; readonly shownAs: ShownAs | null },
  own: string | null,
): ShownAs | null {
  if (own === null || signal.unit === null || own === signal.unit) return own === null ? signal.shownAs : null
  const conversion = between(signal.unit, own)
  return conversion ? { unit: own, ...conversion } : signal.shownAs
}

/** What is said of a signal, in the unit it is seen in: it stays as it is while values come. */
export interface SeenSignal
  extends Omit<
    ShownSignal,
    'device' | 'latest' | 'fault' | 'presence' | 'asked' | 'trace' | 'readings' | 'totals'
  > {
  readonly shownAs: ShownAs | null
  readonly faults: ToldSignal['faults']
}

/** What is said of a signal, in the unit it is seen in. */
export function seenSignal(signal: ToldSignal, shownAs: ShownAs | null): SeenSignal {
  const { kind, unit, decimals, shown, range, limits, bands, choices } = shownSignal({ ...signal, shownAs })
  return {
    id: signal.id,
    origin: signal.origin,
    kind,
    unit,
    decimals,
    shown,
    range,
    limits,
    bands,
    choices,
    title: signalTitle(signal),
    doubt: signal.doubt?.why ?? null,
    isCalibrated: signal.isCalibrated,
    shownAs,
    faults: signal.faults,
  }
}

/** A signal as instruments draw it: what is said of it with what it says, everything in the unit it is seen in. */
export function toShown({ shownAs, faults, ...seen }: SeenSignal, known: Known): ShownSignal {
  const { latest, device, presence, asked, trace, totals } = known
  const faultOf = ({ value, quality }: Latest): string | null =>
    hasQuality(quality, Quality.atFault)
      ? (faults.find((each) => each.value === value)?.name ?? 'fault')
      : null
  const readAs = ({ value }: Pick<Latest, 'value'>): SignalValue =>
    typeof value === 'number' ? shownValue(value, { shownAs }) : value
  return {
    ...seen,
    device,
    latest: latest && { ...latest, value: readAs(latest) },
    fault: latest && faultOf(latest),
    presence,
    asked: asked && { ...asked, value: readAs({ value: asked.value }) },
    trace,
    readings: upTo(latest, known.readings).map(
      (reading): ShownReading => ({ at: reading.at, value: readAs(reading), fault: faultOf(reading) }),
    ),
    totals,
  }
}

/** What came last was not asked for yet, where the others were. */
const upTo = (latest: Latest | null, readings: readonly Latest[]): readonly Latest[] =>
  latest && latest.at > (readings.at(-1)?.at ?? -Infinity) ? [...readings, latest] : readings

/** A trace in the unit it is seen in. @param gap longer silences, ms, are gaps */
export function traceSeen(
  trace: { readonly points: readonly Point[]; readonly before: Point | null },
  shownAs: ShownAs | null,
  gap: number,
): ShownTrace {
  const seen = ([at, value]: Point): Point => [at, shownValue(value, { shownAs })]
  return {
    points: shownAs ? trace.points.map(seen) : trace.points,
    before: trace.before && seen(trace.before),
    gap,
  }
}
