import { pauseBefore } from './connection.ts'

describe('pauseBefore', () => {
  it('doubles up to a bound, spread by a quarter to either side', () => {
    expect([0, 1, 2, 20].map((attempt) => pauseBefore(attempt, 0.5))).toEqual([500, 1000, 2000, 15_000])
    expect(pauseBefore(20, 0)).toBe(11_250)
    expect(pauseBefore(20, 1)).toBe(18_750)
  })
})
