import type { QuantityFunction } from './quantityFunction.ts'

/** Rothfusz's regression with the adjustments of the weather service, °F. */
function inFahrenheit(t: number, rh: number): number {
  const simple = 0.5 * (t + 61 + (t - 68) * 1.2 + rh * 0.094)
  if ((simple + t) / 2 < 80) return simple
  const full =
    -42.379 +
    2.04901523 * t +
    10.14333127 * rh -
    0.22475541 * t * rh -
    6.83783e-3 * t * t -
    5.481717e-2 * rh * rh +
    1.22874e-3 * t * t * rh +
    8.5282e-4 * t * rh * rh -
    1.99e-6 * t * t * rh * rh
  if (rh < 13 && t >= 80 && t <= 112) return full - ((13 - rh) / 4) * Math.sqrt((17 - Math.abs(t - 95)) / 17)
  if (rh > 85 && t >= 80 && t <= 87) return full + ((rh - 85) / 10) * ((87 - t) / 5)
  return full
}

export const heatIndex: QuantityFunction = {
  name: 'heat_index',
  says: 'How hot this air feels in the shade.',
  takes: [
    { name: 'air', unit: 'Cel', from: 10, to: 50 },
    { name: 'humidity', unit: '%', from: 0, to: 100 },
  ],
  gives: 'Cel',
  source:
    'Rothfusz, NWS Technical Attachment SR 90-23, with the adjustments of the US National Weather Service.',
  example: 'heat_index(field("/temperature"), x)',
  of: (air, humidity) => ((inFahrenheit((air * 9) / 5 + 32, humidity) - 32) * 5) / 9,
}
