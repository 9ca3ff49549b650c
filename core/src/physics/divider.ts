import type { QuantityFunction } from './quantityFunction.ts'

const takes = [
  { name: 'volts', unit: 'V', from: 0 },
  { name: 'supply', unit: 'V', from: 0 },
  { name: 'other', unit: 'Ohm', from: 0 },
] as const
const source = 'Horowitz and Hill, The Art of Electronics, 3rd edition, section 1.2.3 (voltage dividers).'

export const dividerToGround: QuantityFunction = {
  name: 'divider_to_ground',
  says: 'The resistance of what lies between the input and ground, when the other resistor goes to the supply.',
  takes,
  gives: 'Ohm',
  source,
  example: 'divider_to_ground(adc_volts(x, 12, 3.3), 3.3, 10000)',
  of: (volts, supply, other) => (volts < supply ? (other * volts) / (supply - volts) : Number.NaN),
}

export const dividerToSupply: QuantityFunction = {
  name: 'divider_to_supply',
  says: 'The resistance of what lies between the input and the supply, when the other resistor goes to ground.',
  takes,
  gives: 'Ohm',
  source,
  example: 'divider_to_supply(adc_volts(x, 12, 3.3), 3.3, 10000)',
  of: (volts, supply, other) =>
    volts > 0 && volts <= supply ? (other * (supply - volts)) / volts : Number.NaN,
}
