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

export const lithiumIonCharge = charge(
  'charge_lithium_ion',
  'lithium-ion (4.2 V a cell)',
  'A typical curve of cells with graphite and nickel, manganese and cobalt, rounded; makes differ by some percent.',
  1,
  [
    3.0, 0, 3.45, 5, 3.55, 10, 3.62, 20, 3.68, 30, 3.73, 40, 3.79, 50, 3.87, 60, 3.95, 70, 4.02, 80, 4.1, 90,
    4.2, 100,
  ],
)
