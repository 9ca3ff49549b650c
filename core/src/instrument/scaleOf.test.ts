import { usualSettings } from '../signal/index.ts'
import { scaleOf } from './scaleOf.ts'

const limits = { lowLow: null, low: 10, high: 14, highHigh: null, deadband: 0, onDelay: 0, offDelay: 0 }

it('leaves room beyond the limits, and takes what is stated to be shown first', () => {
  expect(scaleOf({ ...usualSettings, limits })).toEqual({ low: 8, high: 16 })
  expect(scaleOf({ ...usualSettings, limits, shown: { low: 0, high: 30 } })).toEqual({ low: 0, high: 30 })
  const range = { low: 0, high: 5000 }
  expect(scaleOf({ ...usualSettings, limits: { ...limits, low: null, high: 2000 }, range })).toEqual({
    low: 0,
    high: 2500,
  })
  expect(scaleOf({ ...usualSettings, limits: { ...limits, low: null, high: 20 } })).toEqual({
    low: 0,
    high: 25,
  })
  expect(
    scaleOf({ ...usualSettings, limits: { ...limits, high: null, low: 20 }, range: { low: 0, high: 100 } }),
  ).toEqual({ low: 0, high: 100 })
  expect(scaleOf({ ...usualSettings, range })).toEqual(range)
  expect(scaleOf(usualSettings)).toBeUndefined()
})
