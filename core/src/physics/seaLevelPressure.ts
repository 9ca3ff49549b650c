import type { QuantityFunction } from './quantityFunction.ts'

/** How the temperature falls with height, K/m, and the exponent that follows from it. */
const lapse = 0.0065
const exponent = 9.80665 / (lapse * 287.05287)

export const seaLevelPressure: QuantityFunction = {
  name: 'sea_level_pressure',
  says: 'What the pressure would be at sea level, in the unit it was measured in.',
  takes: [
    { name: 'pressure', unit: '', from: 0 },
    { name: 'height', unit: 'm', from: -500, to: 11_000 },
    { name: 'air', unit: 'Cel', from: -90, to: 60 },
  ],
  gives: '',
  source: 'ISO 2533 (standard atmosphere), equation 12, from the temperature where it was measured.',
  example: 'sea_level_pressure(x / 100, 212, field("/temperature"))',
  of: (pressure, height, air) => {
    const there = air + 273.15
    return pressure * ((there + lapse * height) / there) ** exponent
  },
}
