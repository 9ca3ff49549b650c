import { UcumLhcUtils } from '@lhncbc/ucum-lhc'
import fc from 'fast-check'
import { atoms } from './atoms.ts'
import { between, convertedTo, decimalsIn, type UnitConversion } from './between.ts'
import { isUnit, measureOf, UnitError } from './measureOf.ts'
import { unitSymbol } from './unitSymbol.ts'
import { unitsAgree } from './unitsAgree.ts'
import { usualUnits } from './usualUnits.ts'

const reference = UcumLhcUtils.getInstance()
const shown = (value: number, from: string, to: string): number | undefined => {
  const conversion = between(from, to)
  return conversion && convertedTo(value, conversion)
}

it.each([
  [20, 'Cel', '[degF]', 68],
  [37, 'Cel', '[degF]', 98.6],
  [-40, '[degF]', 'Cel', -40],
  [0, 'Cel', 'K', 273.15],
  [1, '[in_i]', 'mm', 25.4],
  [3.6, 'km/h', 'm/s', 1],
  [1013.25, 'hPa', 'atm', 1],
  [1, 'kW.h', 'kJ', 3600],
  [180, 'deg', '[pi].rad', 1],
  [1, 'mg/L', 'ug/m3', 1_000_000],
  [1, 'g{dry}/m3', 'mg/L', 1],
  [30, '/min', 'Hz', 0.5],
  [1, '10*3/uL', '10*9/L', 1],
  [2, 'm2/(s.m)', 'm/s', 2],
])('%d %s in %s are %d, to the last digit', (value, from, to, is) => {
  expect(shown(value, from, to)).toBe(is)
})

it('does not turn into one another what measures different things', () => {
  expect(between('Cel', '%')).toBeUndefined()
  expect(between('dB[SPL]', 'dB')).toBeUndefined()
  expect(between('[pH]', '1')).toBeUndefined()
})

// Levels are logarithms there, and bytes mere numbers: here both compare with themselves only. It has mol with older digits.
const toldOtherwise = /^dB|^\[pH\]$|By$|mol/

describe('beside a library of the standard', () => {
  const codes = [...atoms.keys(), ...usualUnits.map(({ code }) => code)]

  it.each(codes)('reads %s', (code) => {
    expect(isUnit(code)).toBe(true)
    expect(reference.validateUnitString(code).status).toBe('valid')
  })

  const comparable = usualUnits.filter(({ code }) => !toldOtherwise.test(code))
  it.each(comparable.map(({ code }) => code))(
    'turns %s into all it can be turned into as the library does',
    (from) => {
      for (const { code: to } of comparable) {
        const own = shown(12.5, from, to)
        const { status, toVal } = reference.convertUnitTo(from, 12.5, to)
        if (own === undefined) expect([to, status]).toEqual([to, 'failed'])
        else
          expect([to, (own - Number(toVal)) / Math.max(1, Math.abs(own))]).toEqual([to, expect.closeTo(0, 6)])
      }
    },
  )
})

it('goes there and back', () => {
  const usual = fc.constantFrom(...usualUnits.map(({ code }) => code))
  fc.assert(
    fc.property(usual, usual, fc.double({ noNaN: true, min: -1e6, max: 1e6 }), (from, to, value) => {
      const there = shown(value, from, to)
      if (there === undefined) return
      expect(Math.abs((shown(there, to, from) ?? Number.NaN) - value)).toBeLessThanOrEqual(
        1e-9 * Math.max(1, Math.abs(value), 300),
      )
    }),
  )
})

it('says of any other text that it is no unit, and why', () => {
  for (const [code, says] of [
    ['furlong', /"furlong" is no unit/],
    ['m/', /part is missing at character 3/],
    ['(m', /bracket is not closed/],
    ['m)', /"\)" was not understood/],
    ['m99', /exponent is too large/],
    ['0.m', /factor of nothing/],
    ['x'.repeat(50), /at most 40 characters/],
  ] as const)
    expect(() => measureOf(code)).toThrow(says)
  fc.assert(
    fc.property(fc.string({ maxLength: 60 }), (text) => {
      try {
        measureOf(text)
      } catch (error) {
        expect(error).toBeInstanceOf(UnitError)
      }
    }),
  )
})

it.each([
  ['Cel', '°C'],
  ['[degF]', '°F'],
  ['ug/m3', 'µg/m³'],
  ['m/s2', 'm/s²'],
  ['kW.h', 'kWh'],
  ['mm[Hg]', 'mmHg'],
  ['cm[H2O]', 'cmH₂O'],
  ['kOhm', 'kΩ'],
  ['%{RH}', '% RH'],
  ['10*3/uL', '10³/µL'],
  ['mbar', 'mbar'],
  ['s-1', 's⁻¹'],
  ['dB[SPL]', 'dB SPL'],
  ['N.m', 'N·m'],
  ['1', ''],
  ['furlong', 'furlong'],
])('writes %s as %s', (code, symbol) => {
  expect(unitSymbol(code)).toBe(symbol)
})

it('gives every usual unit a symbol of its own', () => {
  expect(new Set(usualUnits.map(({ code }) => unitSymbol(code))).size).toBe(usualUnits.length)
})

it('tells in the other unit as finely as in the first', () => {
  const decimals = (from: string, to: string, so: number) =>
    decimalsIn(so, between(from, to) as UnitConversion)
  expect(decimals('Cel', '[degF]', 1)).toBe(1)
  expect(decimals('Pa', 'hPa', 0)).toBe(2)
  expect(decimals('hPa', 'Pa', 1)).toBe(0)
  expect(decimals('mm', '[in_i]', 0)).toBe(2)
})

it('tells relative humidity from a charge, and takes either for a bare share', () => {
  expect(unitsAgree('%{RH}', '%{EL}')).toBe(false)
  expect(unitsAgree('%{RH}', '%')).toBe(true)
  expect(unitsAgree('%', '%{EL}')).toBe(true)
  expect(unitsAgree('%', 'Cel')).toBe(false)
})
