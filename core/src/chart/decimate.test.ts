import fc from 'fast-check'
import { decimate, type TracePoint } from './decimate.ts'

const wave = (length: number): TracePoint[] =>
  Array.from({ length }, (_, i) => [i, Math.sin(i / 7) + (i === 333 ? 50 : 0)])

describe('decimate', () => {
  it('leaves a trace alone that has no more than four points a column', () => {
    expect(decimate(wave(40), 0, 4)).toEqual(wave(40))
  })

  it('keeps a single spike among ten thousand points', () => {
    const thinned = decimate(wave(10_000), 0, 100)
    expect(thinned.length).toBeLessThanOrEqual(400)
    expect(thinned).toContainEqual(wave(334)[333])
  })

  it('draws the same picture as all points do', () => {
    const points = fc.array(fc.integer({ min: -1000, max: 1000 }), { minLength: 100, maxLength: 400 })
    fc.assert(
      fc.property(points, fc.integer({ min: 2, max: 20 }), (values, columns) => {
        // Instants and the width of a column are whole, so that both sides agree on the column of a point on its edge.
        const width = values.length
        const trace = values.map((value, i): TracePoint => [i * columns, value])
        expect(picture(decimate(trace, 0, width), width, columns)).toEqual(picture(trace, width, columns))
      }),
    )
  })
})

/** What a line through the points covers of each column, from what it visits and where it crosses from column to column. */
function picture(
  points: readonly TracePoint[],
  width: number,
  columns: number,
): (readonly [number, number])[] {
  const covered = Array.from({ length: columns }, (): [number, number] => [Infinity, -Infinity])
  const visit = (column: number, value: number) => {
    const range = covered[column]
    if (!range) return
    range[0] = Math.min(range[0], value)
    range[1] = Math.max(range[1], value)
  }
  for (const [index, [at, value]] of points.entries()) {
    visit(Math.floor(at / width), value)
    const [nextAt, nextValue] = points[index + 1] ?? [at, value]
    for (let edge = Math.floor(at / width) + 1; edge * width < nextAt; edge++) {
      const crossed = value + ((nextValue - value) * (edge * width - at)) / (nextAt - at)
      visit(edge - 1, crossed)
      visit(edge, crossed)
    }
  }
  return covered.map(([low, high]) => [Math.round(low * 1e6) / 1e6, Math.round(high * 1e6) / 1e6] as const)
}
