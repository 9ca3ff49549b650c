import fc from 'fast-check'
import { decimate, type TracePoint } from './decimate.ts'

const wave = (length: number): TracePoint[] =>
  Array.from({ length }, (_, i) => [i, Math.sin(i / 7) + (i === 333 ? 50 : 0)])

describe('decimate', () => {
  it('leaves a trace alone that has no more than four points a column', () => {
    expect(decimate(wave(40), 0, 40, 10)).toEqual(wave(40))
  })

  it('keeps a single spike among ten thousand points', () => {
    const thinned = decimate(wave(10_000), 0, 10_000, 100)
    expect(thinned.length).toBeLessThanOrEqual(400)
    expect(thinned).toContainEqual(wave(334)[333])
  })

  it('keeps first, last, lowest and highest of every column, in order, and invents nothing', () => {
    const points = fc.array(fc.double({ min: -1e6, max: 1e6, noNaN: true }), {
      minLength: 100,
      maxLength: 500,
    })
    fc.assert(
      fc.property(points, fc.integer({ min: 1, max: 20 }), (values, columns) => {
        const trace = values.map((value, i): TracePoint => [i, value])
        const thinned = decimate(trace, 0, trace.length, columns)
        const column = (at: number) => Math.floor((at / trace.length) * columns)
        for (let wanted = 0; wanted < columns; wanted++) {
          const all = trace.filter(([at]) => column(at) === wanted)
          const kept = thinned.filter(([at]) => column(at) === wanted)
          expect(kept.at(0)).toEqual(all.at(0))
          expect(kept.at(-1)).toEqual(all.at(-1))
          expect(Math.max(...kept.map(([, v]) => v))).toBe(Math.max(...all.map(([, v]) => v)))
          expect(Math.min(...kept.map(([, v]) => v))).toBe(Math.min(...all.map(([, v]) => v)))
        }
        expect([...thinned].sort((a, b) => a[0] - b[0])).toEqual(thinned)
      }),
    )
  })
})
