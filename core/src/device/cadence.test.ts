import { learnCadence } from './cadence.ts'

it('knows nothing from fewer than three gaps', () => {
  expect(learnCadence([0, 1000, 2000])).toBeNull()
})

it('is not moved by one long drop-out', () => {
  expect(learnCadence([0, 2000, 4000, 90_000, 92_000, 94_000])).toBe(2)
})
