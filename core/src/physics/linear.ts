import type { QuantityFunction } from './quantityFunction.ts'

export const linear: QuantityFunction = {
  name: 'linear',
  says: 'A straight line through two points: 0.5 V is 0 °C and 1.75 V is 125 °C.',
  takes: ['value', 'at1', 'is1', 'at2', 'is2'].map((name) => ({ name, unit: '' })),
  gives: '',
  source: 'Linear interpolation (Abramowitz and Stegun, 25.2.1).',
  example: 'linear(x, 0.5, 0, 1.75, 125)',
  of: (value, at1, is1, at2, is2) => is1 + ((value - at1) * (is2 - is1)) / (at2 - at1),
}
