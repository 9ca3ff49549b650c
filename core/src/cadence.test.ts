import { isLate, learnCadence } from './cadence.ts'

describe('learnCadence', () => {
  it('knows nothing from fewer than three gaps', () => {
    expect(learnCadence([0, 1000, 2000])).toBeNull()
  })

  it('is not moved by one long drop-out', () => {
    expect(learnCadence([0, 2000, 4000, 90_000, 92_000, 94_000])).toBe(2)
  })
})

describe('isLate', () => {
  it('allows for one missed turn and some seconds of grace', () => {
    expect(isLate(0, 63_000, 30)).toBe(false)
    expect(isLate(0, 63_001, 30)).toBe(true)
  })

  it('never calls a device late whose cadence nobody knows', () => {
    expect(isLate(0, 1e12, null)).toBe(false)
  })
})
