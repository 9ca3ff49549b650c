import { calibrate } from './calibration.ts'

const found = [
  { gain: 2, offset: 1, validFrom: 200 },
  { gain: 1, offset: -0.5, validFrom: 100 },
]

it.each([
  [99, 10, 10],
  [100, 10, 9.5],
  [199, 10, 9.5],
  [200, 10, 21],
])('at %d corrects %d to %d, by what held then', (at, value, expected) => {
  expect(calibrate(found, at, value)).toBe(expected)
})

it('lets texts and places be', () => {
  expect(calibrate(found, 500, 'idle')).toBe('idle')
  expect(calibrate(found, 500, { lat: 1, lon: 2 })).toEqual({ lat: 1, lon: 2 })
})
