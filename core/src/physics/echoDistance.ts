import type { QuantityFunction } from './quantityFunction.ts'

/** Speed of sound in dry air, m/s. */
const speedOfSound = (celsius: number): number => 331.3 * Math.sqrt(1 + celsius / 273.15)

export const echoDistance: QuantityFunction = {
  name: 'echo_distance',
  says: 'How far away something is, from the time an echo takes there and back, and the temperature of the air.',
  takes: [
    { name: 'time', unit: 'us', from: 0, to: 1e6 },
    { name: 'air', unit: 'Cel', from: -40, to: 60 },
  ],
  gives: 'm',
  source: 'Ideal gas: c = 331.3 m/s × √(1 + t/273.15 °C) (Kinsler et al., Fundamentals of Acoustics, 5.6).',
  example: 'echo_distance(x, 20)',
  of: (time, air) => (speedOfSound(air) * time * 1e-6) / 2,
}
