import fc from 'fast-check'
import type { Limits } from '../signal/limits.ts'
import { type Found, type HeardLevel, type Level, LevelWatch, newWatchState } from './levelWatch.ts'
import { levelOf } from './occasionLevel.ts'

const none: Limits = {
  lowLow: null,
  low: null,
  high: null,
  highHigh: null,
  deadband: 0,
  onDelay: 0,
  offDelay: 0,
}
const second = 1000

const limit = (
  limits: Partial<typeof none> & { high?: number | null; low?: number | null },
  lateness = 60_000,
) => {
  const level = levelOf(
    { by: 'limit', limit: limits.low === undefined || limits.low === null ? 'high' : 'low' },
    { ...none, ...limits },
    lateness,
  )
  if (!level) throw new Error('there is no such limit')
  return level
}

/** What is found where each reading comes in as it is measured. */
function found(
  level: Level,
  readings: readonly (readonly [seconds: number, value: number | null])[],
  until: number,
) {
  const all: Found[] = []
  const watch = new LevelWatch(level, newWatchState, (each) => all.push(each))
  for (const [at, value] of readings) watch.hear({ at: at * second, heardAt: at * second, value })
  watch.pass(until * second, null)
  return all.map(({ kind, at, worst }) => [kind, at / second, worst])
}

it('raises beyond a limit and returns when it is back by the deadband', () => {
  const readings = [
    [0, 5],
    [1, 8.1],
    [2, 9],
    [3, 7.9],
    [4, 7.5],
    [5, 7.4],
  ] as const
  expect(found(limit({ high: 8, deadband: 0.5 }), readings, 9)).toEqual([
    ['raise', 1, 8.1],
    ['return', 4, 9],
  ])
  // What is on a limit is within it.
  expect(found(limit({ high: 8 }), [[0, 8]], 9)).toEqual([])
})

it('waits for its delays, each way', () => {
  const readings = [
    [0, 9],
    [3, 7],
    [4, 9],
    [20, 7],
    [22, 9],
    [23, 7],
  ] as const
  expect(found(limit({ high: 8, onDelay: 5, offDelay: 4 }), readings, 60)).toEqual([
    ['raise', 9, 9],
    ['return', 27, 9],
  ])
})

it('lets go of what was beyond when nobody knows any more', () => {
  const all: Found[] = []
  const watch = new LevelWatch(limit({ high: 8, onDelay: 60 }), newWatchState, (each) => all.push(each))
  watch.hear({ at: 0, heardAt: 0, value: 9 })
  expect(watch.next()).toBe(60_000)
  watch.pass(70_000, 30_000)
  expect([all, watch.next()]).toEqual([[], null])
  // A sensor at fault does not say that it is back either.
  expect(
    found(
      limit({ high: 8 }),
      [
        [0, 9],
        [1, null],
      ],
      9,
    ),
  ).toEqual([['raise', 0, 9]])
})

/** The definition, plainly: look at every second what was said last, and count how long it has been otherwise. */
function slowly(
  readings: readonly (readonly [number, number])[],
  {
    high,
    deadband,
    onDelay,
    offDelay,
  }: { high: number; deadband: number; onDelay: number; offDelay: number },
  until: number,
) {
  const all: [string, number][] = []
  let isOver = false
  let isActive = false
  let since: number | undefined
  for (let at = 0; at <= until; at++) {
    const wait = isActive ? offDelay : onDelay
    if (since !== undefined && at - since >= wait) {
      isActive = !isActive
      all.push([isActive ? 'raise' : 'return', at])
      since = undefined
    }
    const said = readings.find(([when]) => when === at)?.[1]
    if (said === undefined) continue
    if (said > high) isOver = true
    else if (said <= high - deadband) isOver = false
    if (isOver === isActive) since = undefined
    else {
      since ??= at
      const wanted = isActive ? offDelay : onDelay
      if (at - since >= wanted) {
        isActive = !isActive
        all.push([isActive ? 'raise' : 'return', at])
        since = undefined
      }
    }
  }
  return all
}

const course = fc
  .array(fc.tuple(fc.integer({ min: 1, max: 20 }), fc.integer({ min: 0, max: 10 })), { maxLength: 60 })
  .map((steps) => {
    let at = 0
    return steps.map(([gap, value]) => {
      at += gap
      return [at, value] as const
    })
  })
const delays = fc.record({
  high: fc.constant(6),
  deadband: fc.integer({ min: 0, max: 3 }),
  onDelay: fc.integer({ min: 0, max: 30 }),
  offDelay: fc.integer({ min: 0, max: 30 }),
})

it('finds what looking at every second finds, whenever time is let pass', () => {
  fc.assert(
    fc.property(
      course,
      delays,
      fc.array(fc.integer({ min: 0, max: 1300 }), { maxLength: 20 }),
      (readings, limits, looks) => {
        const expected = slowly(readings, limits, 1300)
        expect(found(limit(limits), readings, 1300).map(([kind, at]) => [kind, at])).toEqual(expected)
        // Looked at in between as well, and taken up from what was written down each time.
        const all: Found[] = []
        let state = newWatchState
        const steps = [
          ...readings.map(([at, value]) => ({ at, value })),
          ...looks.map((at) => ({ at, value: undefined })),
          { at: 1300, value: undefined },
        ].sort((a, b) => a.at - b.at)
        for (const { at, value } of steps) {
          const watch = new LevelWatch(limit(limits), state, (each) => all.push(each))
          if (value === undefined) watch.pass(at * second, null)
          else watch.hear({ at: at * second, heardAt: at * second, value })
          state = JSON.parse(JSON.stringify(watch.state))
        }
        expect(all.map(({ kind, at }) => [kind, at / second])).toEqual(expected)
      },
    ),
    { numRuns: 500 },
  )
})

it('never chatters by noise within the deadband: once beyond, it stays until the value itself has moved', () => {
  fc.assert(
    fc.property(
      fc.double({ min: 0, max: 16, noNaN: true }),
      fc.double({ min: 0.1, max: 3, noNaN: true }),
      fc.array(fc.double({ min: -0.499, max: 0.499, noNaN: true }), { minLength: 2, maxLength: 300 }),
      (value, deadband, noise) => {
        const readings = noise.map((each, at) => [at, value + each * deadband] as const)
        expect(found(limit({ high: 8, deadband }), readings, 999).length).toBeLessThanOrEqual(1)
        expect(found(limit({ low: 8, deadband }), readings, 999).length).toBeLessThanOrEqual(1)
      },
    ),
  )
})

it('turns no faster than its delays, however a value flutters', () => {
  fc.assert(
    fc.property(course, delays, (readings, limits) => {
      const turns = found(limit(limits), readings, 2000)
      for (const [place, [kind, at]] of turns.entries()) {
        const before = turns[place - 1]?.[1]
        if (typeof before === 'number' && typeof at === 'number')
          expect(at - before).toBeGreaterThanOrEqual(kind === 'raise' ? limits.onDelay : limits.offDelay)
      }
    }),
  )
})

describe('what comes in late', () => {
  const heard = (watch: LevelWatch, readings: readonly HeardLevel[]) => {
    for (const each of readings) watch.hear(each)
  }
  const backlog = (heardAt: number): HeardLevel[] => [
    { at: 10_000, heardAt, value: 7 },
    { at: 20_000, heardAt, value: 9 },
    { at: 30_000, heardAt, value: 11 },
    { at: 40_000, heardAt, value: 7 },
  ]
  const watched = (onDelay = 0) => {
    const all: Found[] = []
    return {
      all,
      watch: new LevelWatch(limit({ high: 8, onDelay }), newWatchState, (each) => all.push(each)),
    }
  }

  it('raises by a backlog that is as old as its sender sleeps', () => {
    const { all, watch } = watched()
    heard(watch, backlog(60_000))
    expect(all.map(({ kind, at }) => [kind, at])).toEqual([
      ['raise', 20_000],
      ['return', 40_000],
    ])
  })

  it('raises nothing by what is older, and tells once that it was beyond, and how far', () => {
    const { all, watch } = watched()
    heard(watch, backlog(600_000))
    expect(all).toEqual([
      { kind: 'late', at: 20_000, until: 20_000, value: 9, worst: 9 },
      { kind: 'late', at: 20_000, until: 30_000, value: 11, worst: 11 },
    ])
    // Sent again it says nothing new; what came in on time counts.
    heard(watch, backlog(600_000))
    watch.hear({ at: 600_000, heardAt: 600_100, value: 9 })
    expect(all.slice(2).map(({ kind }) => kind)).toEqual(['raise'])
  })

  it('tells nothing of what was not beyond for long enough', () => {
    const { all, watch } = watched(15)
    heard(watch, backlog(600_000))
    expect(all).toEqual([])
  })
})
