import { budgetOf } from './budget.ts'

it('tells rows a day, disk a year and the share of the ceiling', () => {
  const budget = budgetOf({ devices: 12, signals: 5, cadence: 30 }, 100, 20_000)
  expect(budget.readingsPerSecond).toBe(2)
  expect(budget.rowsPerDay).toBe(172_800)
  expect(budget.bytesPerYear).toBeCloseTo(6.31e9, -7)
  expect(budget.share).toBeCloseTo(1e-4)
})
