import fc from 'fast-check'
import { findCycle } from './findCycle.ts'

it('finds the way from one back to itself', () => {
  const next = new Map([
    ['dew point', ['temperature']],
    ['mean', ['spread', 'dew point']],
    ['spread', ['mean']],
  ])
  expect(findCycle(next)).toEqual(['mean', 'spread', 'mean'])
  expect(findCycle(new Map([[1, [1]]]))).toEqual([1, 1])
})

it('finds none where each leads to later ones only, and one that is none otherwise', () => {
  const pair = fc.tuple(fc.nat(12), fc.nat(12))
  fc.assert(
    fc.property(fc.array(pair, { maxLength: 40 }), (pairs) => {
      const of = (kept: readonly (readonly [number, number])[]) => {
        const next = new Map<number, number[]>()
        for (const [from, to] of kept) next.set(from, [...(next.get(from) ?? []), to])
        return next
      }
      expect(findCycle(of(pairs.filter(([from, to]) => from < to)))).toBeUndefined()
      const cycle = findCycle(of(pairs))
      // By its definition: whoever is reached from its own followers is on one.
      const reached = (from: number, seen = new Set<number>()): Set<number> => {
        for (const to of of(pairs).get(from) ?? []) if (!seen.has(to)) reached(to, seen.add(to))
        return seen
      }
      expect(cycle !== undefined).toBe(pairs.some(([from]) => reached(from).has(from)))
      for (const [place, at] of (cycle ?? []).entries())
        if (place > 0) expect(of(pairs).get(cycle?.[place - 1] ?? -1)).toContain(at)
      if (cycle) expect(cycle[0]).toBe(cycle.at(-1))
    }),
  )
})

it('is not stopped by a long chain', () => {
  const next = new Map(Array.from({ length: 100_000 }, (_, place) => [place, [place + 1]] as const))
  expect(findCycle(next)).toBeUndefined()
})
