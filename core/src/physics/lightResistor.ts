import type { QuantityFunction } from './quantityFunction.ts'

export const lightResistor: QuantityFunction = {
  name: 'light_resistor',
  says: 'Illuminance from the resistance of a light-dependent resistor, that at 10 lx, and its gamma.',
  takes: [
    { name: 'ohms', unit: 'Ohm', from: 1e-3, to: 1e9 },
    { name: 'at10', unit: 'Ohm', from: 1e-3 },
    { name: 'gamma', unit: '', from: 0.1, to: 2 },
  ],
  gives: 'lx',
  source:
    'The definition of gamma between 10 and 100 lx, log10(R₁₀/R₁₀₀) (Fraden, Handbook of Modern Sensors, photoresistors). An order of size, not a light meter.',
  example: 'light_resistor(divider_to_ground(adc_volts(x, 10, 5), 5, 10000), 15000, 0.7)',
  of: (ohms, at10, gamma) => 10 * (at10 / ohms) ** (1 / gamma),
}
