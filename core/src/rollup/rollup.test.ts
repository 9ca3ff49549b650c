import fc from 'fast-check'
import { Quality } from '../signal/reading.ts'
import { aggregate, type Counted, coarser } from './aggregate.ts'
import { type Bucket, join } from './bucket.ts'
import { columnWidth, levelFor, levels, pageOf, pageStart } from './levels.ts'
import { readOutlines, readSlots, writeSlots } from './slotPage.ts'

/** Readings of one signal in order of time, some of which say nothing. */
const readings = (value: fc.Arbitrary<number>) =>
  fc
    .uniqueArray(
      fc.record({
        at: fc.integer({ min: -500, max: 5000 }),
        value,
        quality: fc.constantFrom(
          Quality.good,
          Quality.good,
          Quality.beyondRange,
          Quality.atFault,
          Quality.markedBad,
        ),
      }),
      { selector: ({ at }) => at, maxLength: 60 },
    )
    .map((all) => all.sort((a, b) => a.at - b.at))
const numbers = readings(fc.integer({ min: -500, max: 500 }).map((n) => n / 100))
const states = readings(fc.integer({ min: 0, max: 3 }))

/** One reading by itself. */
function bucketOf(at: number, value: number, hasStates: boolean): Bucket {
  const [slot] = aggregate([{ at, value, quality: Quality.good }], 1000, hasStates).values()
  if (!slot?.bucket) throw new Error('there is no bucket')
  return slot.bucket
}

const sum = (values: readonly number[]): number => values.reduce((total, value) => total + value, 0)

/** What readings come to by the plain words of each figure. */
function plainly(all: readonly Counted[], hasStates: boolean) {
  const counted = all.filter(({ quality }) => quality !== Quality.atFault && quality !== Quality.markedBad)
  const values = counted.map(({ value }) => value)
  const pairs = counted.slice(1).map((later, index) => [counted[index] as Counted, later] as const)
  const mean = sum(values) / values.length
  const lowest = Math.min(...values)
  const highest = Math.max(...values)
  const lasted: Record<number, number> = {}
  for (const [earlier, later] of pairs)
    lasted[earlier.value] = (lasted[earlier.value] ?? 0) + later.at - earlier.at
  return {
    voids: all.length - counted.length,
    bucket:
      counted.length === 0
        ? undefined
        : {
            count: counted.length,
            mean,
            m2: sum(values.map((value) => (value - mean) ** 2)),
            first: values[0],
            firstAt: counted[0]?.at,
            last: values.at(-1),
            lastAt: counted.at(-1)?.at,
            lowest,
            lowestAt: counted.find(({ value }) => value === lowest)?.at,
            highest,
            highestAt: counted.find(({ value }) => value === highest)?.at,
            squaredDifferences: sum(pairs.map(([a, b]) => (b.value - a.value) ** 2)),
            longestGap: Math.max(0, ...pairs.map(([a, b]) => b.at - a.at)),
            ...(hasStates && {
              changes: pairs.filter(([a, b]) => a.value !== b.value).length,
              lasted,
            }),
          },
  }
}

/** Sums are made in another order, so their last digits differ. */
const rounded = (value: unknown): unknown => {
  if (typeof value === 'number') return Number.isInteger(value) ? value : Number(value.toFixed(6))
  if (value instanceof Map) return rounded(Object.fromEntries(value))
  if (typeof value !== 'object' || value === null) return value
  const { states: own, ...rest } = value as { states?: object }
  return Object.fromEntries(Object.entries({ ...rest, ...own }).map(([name, each]) => [name, rounded(each)]))
}

describe.each([
  ['numbers', numbers, false],
  ['states', states, true],
] as const)('buckets of %s', (_, any, hasStates) => {
  it('are what their readings come to', () => {
    fc.assert(
      fc.property(any, (all) => {
        for (const [number, slot] of aggregate(all, 1000, hasStates)) {
          const own = all.filter(({ at }) => at >= number * 1000 && at < (number + 1) * 1000)
          expect(rounded(slot)).toEqual(rounded(plainly(own, hasStates)))
        }
      }),
    )
  })

  it('joined to longer ones are what all of their readings come to', () => {
    fc.assert(
      fc.property(any, fc.integer({ min: 2, max: 7 }), (all, times) => {
        const joined = coarser(aggregate(all, 100, hasStates), times)
        expect(rounded(joined)).toEqual(rounded(aggregate(all, 100 * times, hasStates)))
      }),
    )
  })

  it('come back from their page as they were', () => {
    fc.assert(
      fc.property(any, (all) => {
        const slots = aggregate(all, 100, hasStates)
        expect(readSlots(writeSlots(slots, 100), 100)).toEqual(slots)
      }),
    )
  })
})

it('joining is associative', () => {
  const code = fc.integer({ min: 0, max: 9 })
  const pause = fc.integer({ min: 1, max: 100 })
  fc.assert(
    fc.property(code, code, code, pause, pause, (first, second, third, shorter, longer) => {
      const a = bucketOf(0, first, true)
      const b = bucketOf(shorter, second, true)
      const c = bucketOf(shorter + longer, third, true)
      expect(rounded(join(join(a, b), c))).toEqual(rounded(join(a, join(b, c))))
    }),
  )
})

it('a page keeps numbers to their last bit, however many decimals they have', () => {
  fc.assert(
    fc.property(fc.array(fc.double({ noNaN: true }), { minLength: 1, maxLength: 20 }), (values) => {
      const slots = new Map(
        values.map((value, n) => [n, { bucket: bucketOf(n * 1000, value, false), voids: n }]),
      )
      const read = readSlots(writeSlots(slots, 1000), 1000)
      expect([...read].map(([, { bucket }]) => bucket?.first)).toEqual(values)
    }),
  )
})

it('a page of an hour of a sensor at one second takes little', () => {
  const hour = Array.from({ length: 3600 }, (_, n) => ({
    at: n * 1000,
    value: Math.round(2150 + 40 * Math.sin(n / 300) + ((n * 7919) % 5)) / 100,
    quality: Quality.good,
  }))
  expect(writeSlots(aggregate(hour, 60_000, false), 60_000).length / hour.length).toBeLessThan(1)
})

it('a page of another version is not guessed at', () => {
  expect(() => readSlots(Uint8Array.of(2, 0), 1000)).toThrow('version 2')
})

it('the outline of each bucket is its first, lowest, highest and last reading, each once', () => {
  fc.assert(
    fc.property(numbers, (all) => {
      const counted = all.filter(
        ({ quality }) => quality !== Quality.atFault && quality !== Quality.markedBad,
      )
      const page = writeSlots(aggregate(all, 1000, false), 1000)
      for (const { number, points } of readOutlines(page, 1000)) {
        const own = counted.filter(({ at }) => Math.floor(at / 1000) === number)
        const values = own.map(({ value }) => value)
        const wanted = [
          own[0],
          own.find(({ value }) => value === Math.min(...values)),
          own.find(({ value }) => value === Math.max(...values)),
          own.at(-1),
        ]
        expect(points).toEqual(
          own.filter((each) => wanted.includes(each)).map(({ at, value }) => [at, value]),
        )
      }
      expect(readOutlines(page, 1000)).toHaveLength(
        new Set(counted.map(({ at }) => Math.floor(at / 1000))).size,
      )
    }),
  )
})

describe('levels', () => {
  it('are whole numbers of the one below', () => {
    for (const [index, level] of levels.entries()) expect(level % (levels[index - 1] ?? level)).toBe(0)
  })

  it.each([
    ['an hour', 3_600_000, undefined],
    ['a day', 86_400_000, 60_000],
    ['thirty days', 30 * 86_400_000, 900_000],
    ['a year', 365 * 86_400_000, 14_400_000],
    ['five years', 5 * 365 * 86_400_000, 86_400_000],
  ])('%s on a thousand columns is drawn from the one that fits', (_, span, level) => {
    const width = columnWidth(span, 1000)
    expect(levelFor(width)).toBe(level)
    expect(width).toBeGreaterThanOrEqual(span / 1000)
    expect(span / width).toBeGreaterThan(660)
  })

  it('have pages before and after the epoch', () => {
    expect(pageOf(60_000, -1)).toBe(-1)
    expect(pageStart(60_000, pageOf(60_000, 3_600_001))).toBe(3_600_000)
  })
})
