import fc from 'fast-check'
import type { Take } from '../signal/index.ts'
import { Quality } from '../signal/index.ts'
import { derive, type FoundDerivation, type FoundInput, type NumberReading, neededBefore } from './derive.ts'

const seconds = (
  values: readonly (readonly [second: number, value: number])[],
  quality: number = Quality.good,
) =>
  values.map(
    ([second, value]): NumberReading => ({
      at: second * 1000,
      receivedAt: second * 1000 + 5,
      value,
      quality,
    }),
  )

const derivation = (formula: string, inputs: readonly Partial<FoundInput>[]): FoundDerivation => ({
  formula,
  inputs: inputs.map((input, place) => ({
    name: 'abcdefgh'[place] ?? '',
    signal: place + 1,
    take: { by: 'last' },
    ageLimit: 60,
    ...input,
  })),
  constants: { half: 0.5 },
  isSwitch: false,
  range: { low: null, high: null },
  zone: 'Europe/Dublin',
})

const all = [-Infinity, Infinity] as const
const made = (...given: Parameters<typeof derive>) =>
  derive(...given).map(({ at, value }) => [at / 1000, value] as const)
const take = (taken: Take, rows: NumberReading[], more: Partial<FoundInput> = {}) =>
  made(derivation('a', [{ take: taken, ...more }]), [rows], ...all)

describe('derive', () => {
  it('has a value wherever an input has one, from the last of the others', () => {
    const [a, b] = [
      seconds([
        [0, 1],
        [10, 2],
      ]),
      seconds([
        [5, 10],
        [10, 20],
      ]),
    ]
    expect(made(derivation('(a + b) * half', [{}, {}]), [a, b], ...all)).toEqual([
      [5, 5.5],
      [10, 11],
    ])
  })

  it('has none where another is older than its limit, to the millisecond', () => {
    const [a, b] = [
      seconds([[0, 1]]),
      seconds([
        [30, 1],
        [30.001, 1],
      ]),
    ]
    expect(made(derivation('a + b', [{ ageLimit: 30 }, {}]), [a, b], ...all)).toEqual([[30, 2]])
  })

  it('has none while the last of an input says nothing', () => {
    const a = [...seconds([[0, 1]]), ...seconds([[10, 85]], Quality.atFault), ...seconds([[20, 3]])]
    const b = seconds([
      [5, 1],
      [15, 1],
      [25, 1],
    ])
    expect(made(derivation('a + b', [{}, {}]), [a, b], ...all)).toEqual([
      [5, 2],
      [20, 4],
      [25, 4],
    ])
    expect(take({ by: 'highest', over: 60 }, a)).toEqual([
      [0, 1],
      [20, 3],
    ])
  })

  it('has none where the formula makes none', () => {
    expect(
      made(
        derivation('1 / a', [{}]),
        [
          seconds([
            [0, 0],
            [1, 4],
          ]),
        ],
        ...all,
      ),
    ).toEqual([[1, 0.25]])
  })

  it('is as doubtful as what it follows from, and judged by its own range', () => {
    const a = [...seconds([[0, 1]], Quality.clockDoubted), ...seconds([[1, 99]])]
    const range = { low: 0, high: 10 }
    expect(derive({ ...derivation('a', [{}]), range }, [a], ...all)).toEqual([
      { at: 0, receivedAt: 5, value: 1, quality: Quality.clockDoubted },
      { at: 1000, receivedAt: 1005, value: 99, quality: Quality.beyondRange },
    ])
  })

  it('is off or on where it is a switch', () => {
    const isSwitch = true
    const door = derivation('a > 2', [{}])
    expect(
      made(
        { ...door, isSwitch },
        [
          seconds([
            [0, 2],
            [1, 3],
          ]),
        ],
        ...all,
      ),
    ).toEqual([
      [0, 0],
      [1, 1],
    ])
  })
})

describe('what is taken of a signal', () => {
  it('adds a power of 1 kW for half an hour up to half a kilowatt hour, and nothing over a gap', () => {
    const power = seconds([0, 600, 1200, 1800].map((second) => [second, 1000]))
    const energy = take({ by: 'integral', over: 3600, per: 'h' }, power, { ageLimit: 600 })
    expect(energy.at(-1)?.[1]).toBeCloseTo(500, 9)
    const withGap = take({ by: 'integral', over: 3600, per: 'h' }, power, { ageLimit: 599 })
    expect(withGap.at(-1)?.[1]).toBe(0)
  })

  it('cuts an integral where its span begins', () => {
    // A ramp of 1 a second: from 5 to 10 it adds up to (10² - 5²) / 2.
    const ramp = seconds([
      [0, 0],
      [10, 10],
    ])
    expect(take({ by: 'integral', over: 5, per: 's' }, ramp).at(-1)?.[1]).toBeCloseTo(37.5, 9)
  })

  it('tells how fast something changes in the unit of time that is asked for', () => {
    const warming = seconds([0, 10, 20, 30].map((second) => [second, 4 + second / 60]))
    expect(take({ by: 'rate', over: 60, per: 'min' }, warming).at(-1)?.[1]).toBeCloseTo(1, 9)
    expect(take({ by: 'rate', over: 60, per: 'h' }, warming).at(-1)?.[1]).toBeCloseTo(60, 9)
  })

  it('knows a counter that wrapped from one that began again', () => {
    const counts = seconds([
      [0, 65_000],
      [60, 65_500],
      [120, 464],
      [180, 3],
    ])
    const increase = (wrapsAt: number | null) =>
      take({ by: 'counterIncrease', over: 60, wrapsAt }, counts).map(([, value]) => value)
    expect(increase(65_536)).toEqual([0, 500, 500, 3])
    expect(increase(null)).toEqual([0, 500, 464, 3])
    expect(take({ by: 'counterRate', over: 60, per: 'h', wrapsAt: 65_536 }, counts)[1]).toEqual([120, 30_000])
  })

  it('tells how long a door was open, as far as that is known', () => {
    const door = seconds([
      [0, 0],
      [10, 1],
      [40, 0],
      [50, 1],
      [200, 1],
    ])
    const open = take({ by: 'timeAbove', over: 3600, per: 's', bound: 0.5 }, door, { ageLimit: 60 })
    // It was open for 30 s, and from 50 on for 60 s that are known of.
    expect(open.map(([, value]) => value)).toEqual([0, 0, 30, 30, 90])
  })

  it('begins anew at midnight of the site, also on a day of 25 hours', () => {
    const minute = 60
    const midnight = Date.UTC(2026, 9, 24, 23) / 1000
    const next = Date.UTC(2026, 9, 26, 0) / 1000
    const ticks = [midnight - minute, midnight, midnight + minute, next - minute, next]
    const rain = seconds(ticks.map((second) => [second, 1]))
    const mean = take({ by: 'integral', over: 'day', per: 's' }, rain, { ageLimit: 26 * 3600 })
    expect(mean.map(([, value]) => value)).toEqual([0, 0, 60, 25 * 3600 - 60, 0])
  })
})

/** What each comes to by its definition, from all rows and without anything kept between one instant and the next. */
const plainly: Record<string, (inside: readonly number[], newest: number) => number> = {
  mean: (inside) => inside.reduce((a, b) => a + b, 0) / inside.length,
  lowest: (inside) => Math.min(...inside),
  highest: (inside) => Math.max(...inside),
  spread: (inside) => {
    const mean = inside.reduce((a, b) => a + b, 0) / inside.length
    return Math.sqrt(inside.reduce((sum, each) => sum + (each - mean) ** 2, 0) / (inside.length - 1))
  },
  index: (inside, newest) => (newest * 100) / (inside.reduce((a, b) => a + b, 0) / inside.length),
}

const rows = fc
  .uniqueArray(fc.tuple(fc.integer({ min: 0, max: 500 }), fc.integer({ min: 1, max: 1000 }), fc.boolean()), {
    selector: ([at]) => at,
    maxLength: 40,
  })
  .map((found) =>
    found
      .sort(([a], [b]) => a - b)
      .flatMap(([at, value, isGood]) => seconds([[at, value]], isGood ? Quality.good : Quality.atFault)),
  )

it.each(Object.keys(plainly))('takes the %s as it is defined', (by) => {
  fc.assert(
    fc.property(
      rows,
      fc.integer({ min: 1, max: 200 }),
      fc.integer({ min: 1, max: 100 }),
      (given, over, ageLimit) => {
        const expected = given.flatMap((newest): (readonly [number, number])[] => {
          const inside = given.filter(
            ({ at, quality }) => at > newest.at - over * 1000 && at <= newest.at && quality === Quality.good,
          )
          if (newest.quality !== Quality.good) return []
          const value =
            plainly[by]?.(
              inside.map((each) => each.value),
              newest.value,
            ) ?? Number.NaN
          return Number.isFinite(value) ? [[newest.at / 1000, value]] : []
        })
        const found = take({ by, over } as Take, given, { ageLimit })
        expect(found.map(([at]) => at)).toEqual(expected.map(([at]) => at))
        for (const [place, [, value]] of found.entries())
          expect(value).toBeCloseTo(expected[place]?.[1] ?? Number.NaN, 6)
      },
    ),
  )
})

const withTake: fc.Arbitrary<Take> = fc.oneof(
  fc.constant({ by: 'last' as const }),
  fc.record({
    by: fc.constantFrom('mean' as const, 'lowest' as const, 'spread' as const, 'index' as const),
    over: fc.constantFrom(30, 'day' as const),
  }),
  fc.record({
    by: fc.constantFrom('rate' as const, 'integral' as const),
    over: fc.constantFrom(45, 'day' as const),
    per: fc.constant('min' as const),
  }),
  fc.record({
    by: fc.constant('counterRate' as const),
    over: fc.constant(45),
    per: fc.constant('h' as const),
    wrapsAt: fc.constant(1000),
  }),
  fc.record({
    by: fc.constant('timeAbove' as const),
    over: fc.constant(45),
    per: fc.constant('s' as const),
    bound: fc.constant(500),
  }),
)

/** Of rows what is needed from an instant on, and no more. */
function needed(of: readonly NumberReading[], input: Pick<FoundInput, 'take' | 'ageLimit'>, from: number) {
  const { after, oldest } = neededBefore(input, from)
  const earlier = of.filter(({ at }) => at <= after && at >= oldest)
  const lastOnes = new Set([earlier.at(-1), earlier.findLast(({ quality }) => quality === Quality.good)])
  return of.filter((row) => row.at > after || lastOnes.has(row))
}

it('comes to the same in pieces as at once, to the last digit, from what is needed of each', () => {
  fc.assert(
    fc.property(rows, rows, withTake, fc.integer({ min: 0, max: 500_000 }), (a, b, taken, cut) => {
      const both = derivation('a - b', [{ take: taken, ageLimit: 40 }, { ageLimit: 50 }])
      const [ofA, ofB] = both.inputs as [FoundInput, FoundInput]
      const whole = derive(both, [a, b], 0, 500_000)
      const first = derive(
        both,
        [a, b].map((of) => of.filter(({ at }) => at < cut)),
        0,
        cut - 1,
      )
      const second = derive(both, [needed(a, ofA, cut), needed(b, ofB, cut)], cut, 500_000)
      expect([...first, ...second]).toEqual(whole)
    }),
    { numRuns: 300 },
  )
})
