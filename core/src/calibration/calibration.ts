import { isPosition, type SignalValue } from '../signal/value.ts'

/** A linear correction that was found against a reference: `true = stored × gain + offset`, from an instant on (epoch ms). */
export interface Calibration {
  readonly gain: number
  readonly offset: number
  readonly validFrom: number
}

/**
 * Finds the correction that holds at an instant: the one that began last.
 * @param calibrations in any order
 */
export function calibrationAt(calibrations: readonly Calibration[], at: number): Calibration | undefined {
  let found: Calibration | undefined
  for (const each of calibrations)
    if (each.validFrom <= at && (found === undefined || each.validFrom >= found.validFrom)) found = each
  return found
}

/** Corrects a value on its way out; what is stored stays as it is. What is no number has nothing to be corrected. */
export function calibrate<V extends SignalValue>(
  calibrations: readonly Calibration[],
  at: number,
  value: V,
): V {
  if (typeof value !== 'number' || isPosition(value) || calibrations.length === 0) return value
  const found = calibrationAt(calibrations, at)
  return found ? ((value * found.gain + found.offset) as V) : value
}
