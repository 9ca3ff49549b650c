import type { QuantityFunction } from './quantityFunction.ts'
import { interpolated } from './table.ts'

/** Volts of a cell at rest with percent of charge. */
function charge(
  name: string,
  kind: string,
  source: string,
  cells: number,
  curve: readonly number[],
): QuantityFunction {
  const empty = curve[0] ?? 0
  const full = curve.at(-2) ?? 0
  return {
    name,
    says: `How full a ${kind} battery is, from its voltage at rest and how many cells it has in a row.`,
    takes: [
      { name: 'volts', unit: 'V', from: 0 },
      { name: 'cells', unit: '', from: 1, to: 400 },
    ],
    gives: '%',
    source: `${source} Of a battery at rest near 20 °C; under load or on a charger it is off by tens of percent.`,
    example: `${name}(x, ${cells})`,
    // Fuller than full is full: a charger has just been taken off.
    of: (volts, number) => interpolated(Math.min(full, Math.max(empty, volts / number)), curve),
  }
}

export const leadAcidCharge = charge(
  'charge_lead_acid',
  'lead-acid',
  'Battery Council International, open circuit voltage by state of charge.',
  6,
  [1.9817, 0, 2.01, 25, 2.04, 50, 2.075, 75, 2.1083, 100],
)

/** Volts of a lithium-ion cell at rest that is full to a share from 0 to 1, by the source of `lithiumIonCharge`. */
const lithiumIonVolts = (full: number): number =>
  -1.031 * Math.exp(-35 * full) + 3.685 + 0.2156 * full - 0.1178 * full ** 2 + 0.3201 * full ** 3

export const lithiumIonCharge = charge(
  'charge_lithium_ion',
  'lithium-ion (full at 4.1 V a cell)',
  'Chen and Rincón-Mora (2006), Accurate electrical battery model, IEEE Transactions on Energy Conversion 21 (2), open-circuit voltage of a lithium-ion polymer cell; in steps of one percent.',
  1,
  Array.from({ length: 101 }, (_, percent) => [lithiumIonVolts(percent / 100), percent]).flat(),
)
