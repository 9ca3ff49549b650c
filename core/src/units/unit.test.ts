import { unitSymbol, unitsAgree } from './unit.ts'

it('tells relative humidity from a charge, and takes either for a bare share', () => {
  expect(unitsAgree('%{RH}', '%{EL}')).toBe(false)
  expect(unitsAgree('%{RH}', '%')).toBe(true)
  expect(unitsAgree('%', '%{EL}')).toBe(true)
  expect(unitsAgree('%', 'Cel')).toBe(false)
  expect([unitSymbol('%{RH}'), unitSymbol('Cel'), unitSymbol('furlong')]).toEqual(['% RH', '°C', 'furlong'])
})
