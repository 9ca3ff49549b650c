import type { Signal } from '@jaunty-sparrow/contract'
import { convertedTo, decimalsIn, type UnitConversion } from '@jaunty-sparrow/core/units'
import mapValues from 'lodash-es/mapValues.js'

/** How values are drawn: as they are told, or in the unit that was chosen to see them in. */
export const shownValue = (value: number, { shownAs }: Pick<Signal, 'shownAs'>): number =>
  shownAs ? convertedTo(value, shownAs) : value

/** How many decimals a signal's numbers are written with where it says so itself, in the unit they are seen in. */
export const shownDecimals = (
  decimals: number | null,
  { shownAs }: Pick<Signal, 'shownAs'>,
): number | null => (decimals !== null && shownAs ? decimalsIn(decimals, shownAs) : decimals)

/** A signal as it is drawn: unit, ranges and limits in the unit that was chosen to see it in. What is edited is the signal itself. */
export function shownSignal(signal: Signal): Signal {
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

const pickBounds = ({ lowLow, low, high, highHigh }: NonNullable<Signal['limits']>) => ({
  lowLow,
  low,
  high,
  highHigh,
})

const ends = <T extends Record<string, number | null>>(of: T, shownAs: UnitConversion): T =>
  mapValues(of, (end) => (end === null ? null : convertedTo(end, shownAs))) as T
