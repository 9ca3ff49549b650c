import { guessFaults, tellingValues } from './guessFaults.ts'

const names = (...given: Parameters<typeof guessFaults>) =>
  guessFaults(...given).map(({ value, name, times }) => [value, name, times])
const cool = { low: 3.5, high: 6 }

it.each([
  ['Cel', cool, 85, 'just powered on'],
  ['Cel', cool, -127, 'wire off'],
  ['%', { low: 61, high: 93 }, 0, 'no answer'],
  ['', { low: 1200, high: 1900 }, 4095, 'input at its upper rail'],
  ['', { low: 1200, high: 1900 }, 0, 'input at its lower rail'],
  ['hPa', { low: 985, high: 1020 }, -999, 'no answer'],
])('in %s within %j takes %d for "%s"', (unit, usual, value, name) => {
  expect(names(unit, usual, [{ value, times: 3 }])).toEqual([[value, name, 3]])
  expect(tellingValues(unit)).toContain(value)
})

it.each([
  // An oven is at 85 °C; a fridge may be at 0.
  ['Cel', { low: 70, high: 95 }, 85],
  ['Cel', cool, 0],
  // A vent that is shut most of the time.
  ['%', { low: 0, high: 40 }, 0],
  ['', { low: 20, high: 260 }, 255],
  ['W', { low: 5, high: 900 }, 255],
])('in %s within %j makes nothing of %d', (unit, usual, value) => {
  expect(names(unit, usual, [{ value, times: 3 }])).toEqual([])
})
