import type { Importance } from '../layout/index.ts'
import type { SignalDefinition, Span } from '../signal/index.ts'

/** Drawings that show one signal. */
export const instrumentKinds = ['value', 'scale', 'states', 'compass'] as const
export type InstrumentKind = (typeof instrumentKinds)[number]

/** Which instrument fits a signal, and how important it is. */
export interface ProposedInstrument {
  readonly kind: InstrumentKind
  readonly importance: Importance
}

type Described = Pick<SignalDefinition, 'kind' | 'unit' | 'shown' | 'range' | 'limits' | 'origin'>

/** From where to where its scale goes; undefined where nobody has said anything that bounds it. */
export function scaleOf({ shown, range, limits }: Described): { low: number; high: number } | undefined {
  const stated = bounded(shown)
  if (stated) return stated
  const bounds = [limits?.lowLow, limits?.low, limits?.high, limits?.highHigh].filter(
    (limit): limit is number => typeof limit === 'number',
  )
  const [least, most] = [Math.min(...bounds), Math.max(...bounds)]
  // What lies beyond the limits has as much room as what lies between them.
  if (bounds.length > 1) return { low: least - (most - least) / 2, high: most + (most - least) / 2 }
  const [only] = bounds
  if (only === undefined) return bounded(range)
  // On the side of a single limit a scale ends soon beyond it; what a sensor can say at most would hide where the values are.
  const isCeiling = limits?.high === only || limits?.highHigh === only
  const end = isCeiling ? (range.low ?? Math.min(0, only * 2)) : (range.high ?? Math.max(0, only * 2))
  return bounded(
    isCeiling ? { low: end, high: only + (only - end) / 4 } : { low: only - (end - only) / 4, high: end },
  )
}

const bounded = ({ low, high }: Span): { low: number; high: number } | undefined =>
  low !== null && high !== null && low < high ? { low, high } : undefined

/** Proposes how a signal is shown. */
export function proposeInstrument(described: Described): ProposedInstrument {
  const { kind, shown, limits } = described
  if (kind === 'switch' || kind === 'choice') return { kind: 'states', importance: 'normal' }
  // An angle that goes all the way round is a direction; one that does not, as of a door, is a number.
  if (kind === 'number' && described.unit === 'deg' && described.range.high === 360)
    return { kind: 'compass', importance: 'normal' }
  // The plausible range of a sensor says little of where its values lie; limits, or what somebody asked to see, do.
  const hasScale =
    kind === 'number' && (bounded(shown) !== undefined || limits !== null) && scaleOf(described)
  return { kind: hasScale ? 'scale' : 'value', importance: 'normal' }
}
