import { Quality, usualSettings } from '@jaunty-sparrow/core/signal'
import { type Known, seenAs, seenSignal, type ToldSignal, toShown, traceSeen } from './toShown.ts'

const told: ToldSignal = {
  ...usualSettings,
  id: 7,
  name: 'Milk',
  partName: 'top',
  kind: 'number',
  origin: 'measured',
  unit: 'Cel',
  choices: [],
  limits: { lowLow: null, low: 2, high: 6, highHigh: null, deadband: 0.5, onDelay: 0, offDelay: 0 },
  faults: [{ value: 85, name: 'just powered on' }],
  doubt: { why: 'its cable is loose' },
  isCalibrated: true,
}
const known = {
  device: 'Milk vat',
  presence: 'on-time',
  asked: null,
  trace: null,
  readings: [],
  totals: [],
} as const
const fahrenheit = { unit: '[degF]', multiply: 9, divide: 5, add: 32 }

const shown = (shownAs: Parameters<typeof seenSignal>[1], more: Known) =>
  toShown(seenSignal(told, shownAs), more)

it('tells everything in the unit it is seen in', () => {
  const seen = shown(fahrenheit, { ...known, latest: { at: 1, value: 20, quality: 0 } })
  expect(seen).toMatchObject({
    title: 'Milk top',
    device: 'Milk vat',
    unit: '[degF]',
    latest: { value: 68 },
    limits: { low: 35.6, high: 42.8, deadband: 0.9 },
    fault: null,
    doubt: 'its cable is loose',
    isCalibrated: true,
  })
})

it('tells single readings up to the latest one, once, in the unit it is seen in', () => {
  const reading = (at: number, value: number, quality = 0) => ({ at, value, quality })
  const readings = [reading(1, 10), reading(2, 85, Quality.atFault)]
  const told = (latest: ReturnType<typeof reading> | null) =>
    shown(fahrenheit, { ...known, readings, latest }).readings.map(({ at, value, fault }) => [
      at,
      fault ?? value,
    ])
  const before = [
    [1, 50],
    [2, 'just powered on'],
  ]
  expect(told(null)).toEqual(before)
  expect(told(reading(2, 85, Quality.atFault))).toEqual(before)
  expect(told(reading(3, 20))).toEqual([...before, [3, 68]])
})

it('names a fault by what it was sent as, in no unit', () => {
  const latest = (value: number) => ({ at: 1, value, quality: Quality.atFault })
  expect(shown(fahrenheit, { ...known, latest: latest(85) }).fault).toBe('just powered on')
  expect(shown(null, { ...known, latest: latest(-127) }).fault).toBe('fault')
  expect(shown(null, { ...known, latest: null }).fault).toBeNull()
})

it('lets an instrument have a unit of its own, as far as it measures the same', () => {
  const byPerson = { unit: 'Cel', shownAs: fahrenheit }
  expect(seenAs(byPerson, null)).toBe(fahrenheit)
  expect(seenAs(byPerson, 'K')).toMatchObject({ unit: 'K', add: 273.15 })
  // Its own unit is a choice too, also where somebody sees it otherwise elsewhere.
  expect(seenAs(byPerson, 'Cel')).toBeNull()
  expect(seenAs(byPerson, 'L')).toBe(fahrenheit)
  expect(seenAs({ unit: null, shownAs: null }, 'K')).toBeNull()
})

it('leaves a trace as it is where nothing is converted, so that it need not be drawn anew', () => {
  const trace = { points: [[1, 20]] as const, before: [0, 10] as const }
  expect(traceSeen(trace, null, 5).points).toBe(trace.points)
  expect(traceSeen(trace, fahrenheit, 5)).toEqual({ points: [[1, 68]], before: [0, 50], gap: 5 })
})
