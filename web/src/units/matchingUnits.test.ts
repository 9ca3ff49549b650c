import { matchingUnits } from './matchingUnits.ts'

const first = (typed: string) => matchingUnits(typed, 12)[0]?.code

it.each([
  ['°C', 'Cel'],
  ['celsius', 'Cel'],
  ['fahr', '[degF]'],
  ['µg/m³', 'ug/m3'],
  ['ug/m', 'ug/m3'],
  ['microgram', 'ug/m3'],
  ['kWh', 'kW.h'],
  ['PSI', '[psi]'],
  ['knot', '[kn_i]'],
  // Another code of the standard.
  ['mg/dL', 'mg/dL'],
  ['kPa/s', 'kPa/s'],
])('by "%s" finds %s', (typed, code) => {
  expect(first(typed)).toBe(code)
})

it('finds the exact one first, and offers nothing for what is no unit', () => {
  expect(first('m')).toBe('m')
  expect(matchingUnits('furlong per fortnight', 12)).toEqual([])
})

it('offers what is usual before anything is typed, and never more than fits', () => {
  expect(matchingUnits('', 5)).toHaveLength(5)
  expect(matchingUnits('e', 7)).toHaveLength(7)
})
