import type { QuantityFunction } from './quantityFunction.ts'

type Step = readonly [lowest: number, highest: number, index: number, last: number]

/** Between the breakpoints of the step that a rounded-down concentration is in. */
function index(steps: readonly Step[], concentration: number): number {
  const step = steps.find(([, highest]) => concentration <= highest)
  if (!step) return steps.at(-1)?.[3] ?? Number.NaN
  const [lowest, highest, first, last] = step
  return Math.round(((last - first) / (highest - lowest)) * (concentration - lowest) + first)
}

const source =
  'US EPA, Technical Assistance Document for the Reporting of Daily Air Quality (EPA-454/B-24-002), table 6. Of the mean of a day.'

export const airQualityPm25: QuantityFunction = {
  name: 'air_quality_pm25',
  says: 'Air-quality index from particles under 2.5 µm; 500 and above is 500.',
  takes: [{ name: 'mass', unit: 'ug/m3', from: 0 }],
  gives: '',
  source,
  example: 'air_quality_pm25(x)',
  of: (mass) =>
    index(
      [
        [0, 9, 0, 50],
        [9.1, 35.4, 51, 100],
        [35.5, 55.4, 101, 150],
        [55.5, 125.4, 151, 200],
        [125.5, 225.4, 201, 300],
        [225.5, 325.4, 301, 500],
      ],
      Math.floor(mass * 10 + 1e-9) / 10,
    ),
}

export const airQualityPm10: QuantityFunction = {
  name: 'air_quality_pm10',
  says: 'Air-quality index from particles under 10 µm; 500 and above is 500.',
  takes: [{ name: 'mass', unit: 'ug/m3', from: 0 }],
  gives: '',
  source,
  example: 'air_quality_pm10(x)',
  of: (mass) =>
    index(
      [
        [0, 54, 0, 50],
        [55, 154, 51, 100],
        [155, 254, 101, 150],
        [255, 354, 151, 200],
        [355, 424, 201, 300],
        [425, 604, 301, 500],
      ],
      Math.floor(mass),
    ),
}
