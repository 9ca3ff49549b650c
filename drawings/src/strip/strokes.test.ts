import { strokes } from './strokes.ts'

it('draws a stroke in the middle of each span in which something came, the usual at seven tenths of the height', () => {
  expect(strokes([10, 0, 10, 10], 40, 20)).toEqual([
    { x: 5, height: 14 },
    { x: 25, height: 14 },
    { x: 35, height: 14 },
  ])
})

it('shows the least that came, and cuts off what towers', () => {
  const heights = strokes([1, 1000, 1000, 1000, 1_000_000], 50, 20).map(({ height }) => height)
  expect(heights).toEqual([2, 14, 14, 14, 20])
})

it('draws neighbours as one where there is no room', () => {
  const drawn = strokes(
    Array.from({ length: 288 }, () => 5),
    360,
    20,
  )
  expect(drawn).toHaveLength(144)
  expect(drawn[0]).toEqual({ x: 1.25, height: 14 })
})

it('draws nothing of nothing', () => {
  expect(strokes([0, 0], 40, 20)).toEqual([])
})
