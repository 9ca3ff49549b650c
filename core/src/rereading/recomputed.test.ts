import { compileFormula, type Formula } from '../formula/index.ts'
import { Quality } from '../signal/reading.ts'
import { recomputed } from './recomputed.ts'

const formula = compileFormula('x / divider') as Formula
const signal = { range: { low: 0, high: 50 }, faults: [{ value: 4095, name: 'no sensor' }] }
const anew = (
  stored: { value: number; raw?: number; quality: number },
  constants: Record<string, number> = { divider: 2 },
) => recomputed(stored, formula, constants, signal)

it('makes the value anew of what was sent, and judges it anew', () => {
  expect(anew({ value: 100, raw: 80, quality: Quality.beyondRange })).toEqual({
    value: 40,
    raw: 80,
    quality: 0,
  })
  expect(anew({ value: 10, raw: 200, quality: 0 })).toEqual({
    value: 100,
    raw: 200,
    quality: Quality.beyondRange,
  })
})

it('keeps what only the moment could tell', () => {
  const marks = Quality.tooFast | Quality.clockDoubted | Quality.markedBad
  expect(anew({ value: 1, raw: 80, quality: marks | Quality.beyondRange })).toEqual({
    value: 40,
    raw: 80,
    quality: marks,
  })
})

it('finds the fault that was stated since', () => {
  expect(anew({ value: 9, raw: 4095, quality: 0 })).toEqual({
    value: 4095,
    raw: 4095,
    quality: Quality.atFault,
  })
})

it('leaves alone what it makes nothing else of', () => {
  expect(anew({ value: 40, raw: 80, quality: 0 })).toBeNull()
  expect(anew({ value: 40, quality: 0 })).toBeNull()
  expect(anew({ value: 4095, raw: 4095, quality: Quality.atFault })).toBeNull()
  expect(anew({ value: 1, raw: 80, quality: 0 }, {})).toBeNull()
})
