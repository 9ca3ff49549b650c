import { shownDecimals, shownSignal, shownValue } from './shownSignal.ts'

const fahrenheit = { unit: '[degF]', multiply: 9, divide: 5, add: 32 }
const signal = {
  unit: 'Cel',
  decimals: 1,
  range: { low: -40, high: null },
  shown: { low: 0, high: 20 },
  bands: [{ name: 'good', from: 10, to: null }],
  limits: { lowLow: null, low: 5, high: 20, highHigh: 25, deadband: 0.5, onDelay: 60, offDelay: 0 },
  shownAs: fahrenheit,
} as const

it('draws values, ranges, bands and limits in the unit that was chosen, and leaves times alone', () => {
  expect(shownValue(20, signal)).toBe(68)
  expect(shownSignal(signal)).toMatchObject({
    unit: '[degF]',
    decimals: 1,
    range: { low: -40, high: null },
    shown: { low: 32, high: 68 },
    bands: [{ name: 'good', from: 50, to: null }],
    limits: { lowLow: null, low: 41, high: 68, highHigh: 77, deadband: 0.9, onDelay: 60, offDelay: 0 },
  })
})

it('leaves a signal as it is where nothing was chosen', () => {
  const plain = { ...signal, shownAs: null }
  expect(shownSignal(plain)).toBe(plain)
  expect(shownValue(20, plain)).toBe(20)
  expect([shownDecimals(null, signal), shownDecimals(2, plain)]).toEqual([null, 2])
})
