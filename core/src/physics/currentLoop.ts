import type { QuantityFunction } from './quantityFunction.ts'

export const currentLoop: QuantityFunction = {
  name: 'current_loop',
  says: 'What a transmitter of 4 to 20 mA measures; its live zero tells a broken wire from nothing.',
  takes: [
    { name: 'current', unit: 'mA', from: 3.6, to: 21 },
    { name: 'at4', unit: '' },
    { name: 'at20', unit: '' },
  ],
  gives: '',
  source: 'IEC 60381-1; below 3.6 and above 21 mA it is a failure, as NAMUR NE 43 has it.',
  example: 'current_loop(x / 250 * 1000, 0, 10)',
  of: (current, at4, at20) => at4 + ((current - 4) / 16) * (at20 - at4),
}
