import type { QuantityFunction } from './quantityFunction.ts'

export const currentClamp: QuantityFunction = {
  name: 'current_clamp',
  says: 'The current in a wire, from the voltage over the burden resistor of the clamp around it.',
  takes: [
    { name: 'volts', unit: 'V', from: 0 },
    { name: 'turns', unit: '', from: 1 },
    { name: 'burden', unit: 'Ohm', from: 1e-3 },
  ],
  gives: 'A',
  source:
    'IEC 61869-2: the secondary current is that of the wire divided by the turns. Both as root mean square.',
  example: 'current_clamp(x, 2000, 33)',
  of: (volts, turns, burden) => (volts / burden) * turns,
}
