import { constantsOf, type Formula } from '../formula/index.ts'
import { judge } from '../interpret/judge.ts'
import { hasQuality, Quality } from '../signal/reading.ts'
import type { SignalDefinition } from '../signal/signal.ts'
import type { StoredValue } from './rereadChanges.ts'

/** What only the moment it came in could tell: how fast it moved, who doubted its clock, what a person said of it. */
const lasting = Quality.tooFast | Quality.clockDoubted | Quality.markedBad

/** What recomputing has to know of a signal. */
export type Recomputable = Pick<SignalDefinition, 'faults' | 'range'>

/**
 * Makes the value of a stored reading anew of what was sent.
 * @param constants of the device, by name
 * @returns null where it stays as it is: nothing was kept of what was sent, it means a fault, or the formula makes nothing of it
 */
export function recomputed(
  stored: StoredValue,
  formula: Formula,
  constants: Readonly<Record<string, number>>,
  { faults, range }: Recomputable,
): StoredValue | null {
  const { raw } = stored
  if (raw === undefined || hasQuality(stored.quality, Quality.atFault)) return null
  if (faults.some(({ value }) => value === raw)) {
    const quality = (stored.quality & lasting) | Quality.atFault
    return { value: raw, raw, quality }
  }
  const outcome = formula.evaluate({ x: raw, field: () => undefined, constant: constantsOf(constants) })
  if ('problem' in outcome) return null
  const { value } = outcome
  const quality = (stored.quality & lasting) | judge({ value, raw }, 0, { faults, range, greatestRate: null })
  return value === stored.value && quality === stored.quality ? null : { value, raw, quality }
}
