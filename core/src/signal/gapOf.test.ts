import { gapOf } from './gapOf.ts'

describe('gapOf', () => {
  it('is three missed turns, and never less than fifteen seconds', () => {
    expect([gapOf(30), gapOf(1), gapOf(null)]).toEqual([90_000, 15_000, 900_000])
  })
})
