import { petals, roseOf } from './rose.ts'

it('counts each direction in the petal about it', () => {
  const rose = roseOf([0, 350, 5, 360, -3, 90, 90.1, 180])
  expect(rose).toHaveLength(petals)
  expect(rose[0]).toBe(1)
  expect(rose[4]).toBeCloseTo(2 / 5)
  expect(rose[8]).toBeCloseTo(1 / 5)
  expect(rose.filter((share) => share > 0)).toHaveLength(3)
})

it('is empty where there was no wind, and not put off by what is no number', () => {
  expect(roseOf([])).toEqual(new Array(petals).fill(0))
  expect(roseOf([Number.NaN, 720])[0]).toBe(1)
})
