import type { QuantityFunction } from './quantityFunction.ts'

const takes = [
  { name: 'air', unit: 'Cel', from: -40, to: 60 },
  { name: 'humidity', unit: '%', from: 0, to: 100 },
] as const
const magnus = 'WMO No. 8, Guide to Instruments and Methods of Observation, annex 4.B (over water)'

/** Pressure of water vapour over water, hPa. */
const saturation = (celsius: number): number => 6.112 * Math.exp((17.62 * celsius) / (243.12 + celsius))

export const dewPoint: QuantityFunction = {
  name: 'dew_point',
  says: 'The temperature at which this air begins to drip.',
  takes: [takes[0], { ...takes[1], from: 1 }],
  gives: 'Cel',
  source: `${magnus}.`,
  example: 'dew_point(x, field("/humidity"))',
  of: (air, humidity) => {
    const logarithm = Math.log((saturation(air) * humidity) / 100 / 6.112)
    return (243.12 * logarithm) / (17.62 - logarithm)
  },
}

export const absoluteHumidity: QuantityFunction = {
  name: 'absolute_humidity',
  says: 'How much water is in a cubic metre of this air.',
  takes,
  gives: 'g/m3',
  source: `${magnus}; the ideal gas law with 461.52 J/(kg K) for water vapour.`,
  example: 'absolute_humidity(field("/temperature"), x)',
  of: (air, humidity) => (saturation(air) * humidity * 1000) / (461.52 * (air + 273.15)),
}

export const vapourDeficit: QuantityFunction = {
  name: 'vapour_deficit',
  says: 'Vapour-pressure deficit: how much more vapour this air would take.',
  takes,
  gives: 'kPa',
  source: 'FAO Irrigation and Drainage Paper 56, equations 11 and 54.',
  example: 'vapour_deficit(field("/temperature"), x)',
  of: (air, humidity) => 0.6108 * Math.exp((17.27 * air) / (air + 237.3)) * (1 - humidity / 100),
}
