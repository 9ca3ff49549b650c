import { silences } from './silences.ts'

it('finds where points are farther apart than a gap', () => {
  const points = [0, 10, 60, 70, 200].map((at) => [at, 1] as const)
  expect(silences(points, 40)).toEqual([
    { from: 10, to: 60 },
    { from: 70, to: 200 },
  ])
})

it('has none of what speaks so seldom that all would be silence', () => {
  expect(
    silences(
      Array.from({ length: 60 }, (_, n) => [n * 100, 1] as const),
      50,
    ),
  ).toEqual([])
})
