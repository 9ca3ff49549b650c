import mapValues from 'lodash-es/mapValues.js'
import { convertedTo, decimalsIn, type UnitConversion } from '../units/index.ts'
import type { SignalDefinition } from './signal.ts'

/** In which unit a signal is seen; null for its own. */
export interface ShownAs extends UnitConversion {
  readonly unit: string
}

interface Seen {
  readonly shownAs: ShownAs | null
}
type Drawn = Seen & Pick<SignalDefinition, 'unit' | 'decimals' | 'range' | 'shown' | 'bands' | 'limits'>

/** How values are drawn: as they are told, or in the unit that was chosen to see them in. */
export const shownValue = (value: number, { shownAs }: Seen): number =>
  shownAs ? convertedTo(value, shownAs) : value

/** How many decimals a signal's numbers are written with where it says so itself, in the unit they are seen in. */
export const shownDecimals = (decimals: number | null, { shownAs }: Seen): number | null =>
  decimals !== null && shownAs ? decimalsIn(decimals, shownAs) : decimals

/** A signal as it is drawn: unit, ranges and limits in the unit that was chosen to see it in. What is edited is the signal itself. */
export function shownSignal<S extends Drawn>(signal: S): S {
  const { shownAs } = signal
  if (!shownAs) return signal
  return {
    ...signal,
    unit: shownAs.unit,
    decimals: shownDecimals(signal.decimals, signal),
    range: ends(signal.range, shownAs),
    shown: ends(signal.shown, shownAs),
    bands: signal.bands.map(({ name, ...band }) => ({ name, ...ends(band, shownAs) })),
    limits: signal.limits && {
      ...signal.limits,
      ...ends(pickBounds(signal.limits), shownAs),
      deadband: (signal.limits.deadband * shownAs.multiply) / shownAs.divide,
    },
  }
}

const pickBounds = ({ lowLow, low, high, highHigh }: NonNullable<SignalDefinition['limits']>) => ({
  lowLow,
  low,
  high,
  highHigh,
})

const ends = <K extends string>(
  of: Readonly<Record<K, number | null>>,
  shownAs: UnitConversion,
): Record<K, number | null> =>
  mapValues(of, (end: number | null) => (end === null ? null : convertedTo(end, shownAs)))
