import { decimate } from '@jaunty-sparrow/core/chart'
import fc from 'fast-check'
import { rasterise } from '../testing/rasterise.ts'
import { tracePath } from './tracePath.ts'

/** px */
const height = 60
const columns = 40
/** ms */
const column = 100

const series = fc
  .uniqueArray(
    fc.record({
      // Some lie close together, and there are gaps between.
      at: fc.oneof(fc.integer({ min: 0, max: 900 }), fc.integer({ min: 1500, max: columns * column - 1 })),
      value: fc.integer({ min: 0, max: height * 4 }).map((n) => n / 4),
    }),
    { selector: ({ at }) => at, minLength: 1, maxLength: 400, size: 'max' },
  )
  .map((all) => all.sort((a, b) => a.at - b.at).map(({ at, value }) => [at, value] as const))

const draw = (points: readonly (readonly [number, number])[], gap: number, isStepped: boolean) =>
  tracePath(
    points,
    (at) => Math.floor(at / column) + 0.5,
    (value) => height - value,
    Math.max(gap, column),
    isStepped,
  )

it.each([
  ['a line', false],
  ['steps', true],
])(
  '%s of four points a column makes the picture that all readings make, with its gaps and both ends',
  (_, isStepped) => {
    fc.assert(
      fc.property(series, fc.integer({ min: 1, max: 900 }), (all, gap) => {
        const few = decimate(all, 0, column)
        expect(few.length).toBeLessThanOrEqual(4 * columns)
        expect(rasterise(draw(few, gap, isStepped))).toEqual(rasterise(draw(all, gap, isStepped)))
      }),
      { numRuns: 60 },
    )
  },
)
