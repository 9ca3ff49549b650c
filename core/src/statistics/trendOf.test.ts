import fc from 'fast-check'
import { trendOf } from './trendOf.ts'

const minute = 60_000
const line = (slope: number, noise: (step: number) => number = () => 0) =>
  Array.from({ length: 60 }, (_, step): [number, number] => [step * minute, 20 + slope * step + noise(step)])

it('finds the slope of a line to its last digits, wherever time begins', () => {
  expect(trendOf(line(0.5))).toBeCloseTo(0.5 / minute, 15)
  const late = line(-0.02).map(([at, value]): [number, number] => [at + 1.79e12, value])
  expect((trendOf(late) ?? 0) * minute).toBeCloseTo(-0.02, 9)
})

it('finds the slope of a published example', () => {
  // Anscombe, "Graphs in Statistical Analysis", The American Statistician 27 (1973), first set: y = 3.00 + 0.500 x.
  const x = [10, 8, 13, 9, 11, 14, 6, 4, 12, 7, 5]
  const y = [8.04, 6.95, 7.58, 8.81, 8.33, 9.96, 7.24, 4.26, 10.84, 4.82, 5.68]
  const often = Array.from({ length: 8 }, () =>
    x.map((at, place): [number, number] => [at, y[place] ?? 0]),
  ).flat()
  // Said once it is too uncertain by our measure; said eight times over its slope is the same and surer.
  expect(trendOf(often)).toBeCloseTo(0.5001, 4)
})

it('calls noise no change', () => {
  fc.assert(
    fc.property(
      fc.array(fc.double({ min: -1, max: 1, noNaN: true }), { minLength: 60, maxLength: 60 }),
      (noise) => {
        // What jumps to and fro goes nowhere.
        const points = line(0, (step) => (step % 2 === 0 ? 1 : -1) * Math.abs(noise[step] ?? 0))
        const slope = trendOf(points)
        expect(Math.abs((slope ?? 0) * minute * 60)).toBeLessThan(2)
      },
    ),
  )
  expect(trendOf(line(0, (step) => Math.sin(step * 2.4)))).toBeNull()
  expect(trendOf(line(0.2, (step) => Math.sin(step * 2.4)))).not.toBeNull()
})

it('calls a jump no trend, and a rise that goes on one', () => {
  const jump = Array.from({ length: 60 }, (_, step): [number, number] => [step * minute, step < 20 ? 10 : 0])
  expect(trendOf(jump)).toBeNull()
  expect(
    trendOf(jump.toReversed().map(([at, value]): [number, number] => [59 * minute - at, value])),
  ).toBeNull()
  expect(trendOf(line(0.1))).not.toBeNull()
})

it('says nothing of too little, or of what does not change', () => {
  expect(trendOf(line(1).slice(0, 7))).toBeNull()
  expect(trendOf(line(0))).toBeNull()
  expect(trendOf(Array.from({ length: 20 }, () => [5, 1]))).toBeNull()
})
