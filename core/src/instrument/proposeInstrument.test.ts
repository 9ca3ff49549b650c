import { usualSettings } from '../signal/index.ts'
import { proposeInstrument, scaleOf } from './proposeInstrument.ts'

const number = { ...usualSettings, kind: 'number', origin: 'measured' } as const
const limits = { lowLow: null, low: 10, high: 14, highHigh: null, deadband: 0, onDelay: 0, offDelay: 0 }

it('draws a scale where somebody said what is of interest', () => {
  expect(proposeInstrument({ ...number, limits }).kind).toBe('scale')
  expect(proposeInstrument({ ...number, shown: { low: 0, high: 20 } }).kind).toBe('scale')
  expect(proposeInstrument({ ...number, range: { low: -40, high: 125 } }).kind).toBe('value')
  expect(proposeInstrument(number).kind).toBe('value')
  expect(proposeInstrument({ ...number, unit: 'deg', range: { low: 0, high: 360 } }).kind).toBe('compass')
  expect(proposeInstrument({ ...number, unit: 'deg', range: { low: 0, high: 90 } }).kind).toBe('value')
  expect(proposeInstrument({ ...number, kind: 'switch' }).kind).toBe('states')
  expect(proposeInstrument({ ...number, kind: 'text' }).kind).toBe('value')
})

it('leaves room beyond the limits, and takes what is stated to be shown first', () => {
  expect(scaleOf({ ...number, limits })).toEqual({ low: 8, high: 16 })
  expect(scaleOf({ ...number, limits, shown: { low: 0, high: 30 } })).toEqual({ low: 0, high: 30 })
  const range = { low: 0, high: 5000 }
  expect(scaleOf({ ...number, limits: { ...limits, low: null, high: 2000 }, range })).toEqual({
    low: 0,
    high: 2500,
  })
  expect(scaleOf({ ...number, limits: { ...limits, low: null, high: 20 } })).toEqual({ low: 0, high: 25 })
  expect(
    scaleOf({ ...number, limits: { ...limits, high: null, low: 20 }, range: { low: 0, high: 100 } }),
  ).toEqual({
    low: 0,
    high: 100,
  })
  expect(scaleOf({ ...number, range })).toEqual(range)
  expect(scaleOf(number)).toBeUndefined()
})
