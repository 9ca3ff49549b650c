import type { QuantityFunction } from './quantityFunction.ts'

export const adcVolts: QuantityFunction = {
  name: 'adc_volts',
  says: 'The voltage at an analog input, from the counts of its converter.',
  takes: [
    { name: 'counts', unit: '', from: 0 },
    { name: 'bits', unit: '', from: 1, to: 32 },
    { name: 'reference', unit: 'V', from: 0 },
  ],
  gives: 'V',
  source: 'IEEE Std 1241: one step is the reference divided by 2 to the number of bits.',
  example: 'adc_volts(x, 12, 3.3)',
  of: (counts, bits, reference) => (counts < 2 ** bits ? (counts * reference) / 2 ** bits : Number.NaN),
}
