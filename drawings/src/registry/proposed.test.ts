import { usualSettings } from '@jaunty-sparrow/core/signal'
import { proposed } from './registry.ts'

const number = { ...usualSettings, kind: 'number', origin: 'measured' } as const
const limits = { lowLow: null, low: 10, high: 14, highHigh: null, deadband: 0, onDelay: 0, offDelay: 0 }
const kindOf = (signal: Parameters<typeof proposed>[0]) => proposed(signal).kind

it('draws a scale where somebody said what is of interest', () => {
  expect(kindOf({ ...number, limits })).toBe('scale')
  expect(kindOf({ ...number, shown: { low: 0, high: 20 } })).toBe('scale')
  expect(kindOf({ ...number, range: { low: -40, high: 125 } })).toBe('value')
  expect(kindOf(number)).toBe('value')
})

it('finds the drawing that is made for what a signal tells', () => {
  expect(kindOf({ ...number, unit: 'deg', range: { low: 0, high: 360 } })).toBe('compass')
  expect(kindOf({ ...number, unit: 'deg', range: { low: 0, high: 90 } })).toBe('value')
  expect(kindOf({ ...number, unit: 'L', range: { low: 0, high: 2000 } })).toBe('vessel')
  expect(kindOf({ ...number, bands: [{ name: 'good', from: 0, to: 10 }] })).toBe('sign')
  expect(kindOf({ ...number, kind: 'switch' })).toBe('states')
  expect(kindOf({ ...number, kind: 'choice' })).toBe('states')
  expect(kindOf({ ...number, kind: 'text' })).toBe('value')
  expect(kindOf({ ...number, kind: 'position' })).toBe('map')
  expect(kindOf({ ...number, kind: 'momentary', origin: 'controlled' })).toBe('control')
  expect(kindOf({ ...number, kind: 'switch', origin: 'controlled' })).toBe('control')
})
