import fc from 'fast-check'
import { Quality, type Reading } from './reading.ts'
import { closeInterval, type StoringRule, type StoringState, thinReadings } from './storingRule.ts'

const reading = (at: number, value: number): Reading => ({
  signal: 1,
  at: at * 1000,
  receivedAt: at * 1000,
  value,
  quality: Quality.good,
})
const short = (readings: readonly Reading[]) =>
  readings.map(({ at, value }) => [at / 1000, value as number] as const)
/** Thins one reading after the other, as they come in. */
function oneByOne(storing: StoringRule, readings: readonly Reading[]) {
  let state: StoringState | undefined
  const store: Reading[] = []
  for (const each of readings) {
    const kept = thinReadings(storing, state, [each])
    store.push(...kept.store)
    state = kept.state
  }
  return { store: short(store), state }
}

it('keeps every reading where nothing else was said', () => {
  expect(oneByOne({ by: 'every' }, [reading(1, 5), reading(2, 5)]).store).toHaveLength(2)
})

describe('on change', () => {
  const storing: StoringRule = { by: 'change', deadband: 0.5, heartbeat: 60 }

  it('keeps what leaves the deadband, with the reading before it', () => {
    const readings = [reading(0, 20), reading(1, 20.4), reading(2, 19.6), reading(3, 21), reading(4, 21)]
    expect(oneByOne(storing, readings).store).toEqual([
      [0, 20],
      [2, 19.6],
      [3, 21],
    ])
  })

  it('keeps one every heartbeat, however still it is', () => {
    const readings = Array.from({ length: 200 }, (_, at) => reading(at, 20))
    expect(oneByOne(storing, readings).store.map(([at]) => at)).toEqual([0, 60, 120, 180])
  })

  it('keeps a change of quality', () => {
    const odd = { ...reading(1, 20), quality: Quality.beyondRange }
    expect(oneByOne(storing, [reading(0, 20), odd]).store).toHaveLength(2)
  })

  it('leaves no reading further from what is stored before it than the deadband', () => {
    const values = fc.array(fc.double({ min: -5, max: 5, noNaN: true }), { minLength: 1 })
    fc.assert(
      fc.property(values, (course) => {
        const all = course.map((value, at) => reading(at, value))
        const { store } = oneByOne(storing, all)
        for (const [at = 0, value = 0] of short(all)) {
          const before = store.findLast(([stored]) => stored <= at)
          expect(Math.abs((before?.[1] ?? Number.NaN) - value)).toBeLessThanOrEqual(2 * 0.5 + 1e-9)
        }
      }),
    )
  })
})

describe('one of each interval', () => {
  const readings = [reading(0, 5), reading(3, 9), reading(6, 1), reading(9, 6), reading(11, 100)]

  it.each<['last' | 'mean' | 'range', number[][]]>([
    ['last', [[9, 6]]],
    ['mean', [[5, 5.25]]],
    [
      'range',
      [
        [3, 9],
        [6, 1],
      ],
    ],
  ])('%s', (of, stored) => {
    const storing: StoringRule = { by: 'interval', seconds: 10, of }
    const { store, state } = oneByOne(storing, readings)
    expect(store).toEqual(stored)
    expect(closeInterval(storing, state, 19_999).store).toEqual([])
    const closed = closeInterval(storing, state, 20_000)
    expect(closed.store).toHaveLength(1)
    expect(closed.state).toBeUndefined()
  })

  it('weighs what was sent again once', () => {
    const storing: StoringRule = { by: 'interval', seconds: 10, of: 'mean' }
    const { state } = oneByOne(storing, [
      reading(1, 4),
      reading(2, 8),
      reading(1, 4),
      reading(2, 8),
      reading(2, 8),
    ])
    expect(short(closeInterval(storing, state, 10_000).store)).toEqual([[5, 6]])
  })

  it('comes to the same in one message as one by one', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.integer({ min: 0, max: 300 }), { minLength: 1 }),
        fc.constantFrom('last' as const, 'mean' as const, 'range' as const),
        (instants, of) => {
          const storing: StoringRule = { by: 'interval', seconds: 20, of }
          const all = instants.sort((a, b) => a - b).map((at) => reading(at, (at * 37) % 11))
          const atOnce = thinReadings(storing, undefined, all)
          const { store, state } = oneByOne(storing, all)
          expect(short(atOnce.store)).toEqual(store)
          expect(atOnce.state).toEqual(state)
        },
      ),
    )
  })
})

it('thins a backlog by itself, and goes on where it was', () => {
  const storing: StoringRule = { by: 'interval', seconds: 10, of: 'last' }
  const { state } = thinReadings(storing, undefined, [reading(100, 1)])
  const kept = thinReadings(storing, state, [reading(101, 2), reading(12, 7), reading(5, 6), reading(17, 8)])
  expect(short(kept.store)).toEqual([
    [5, 6],
    [17, 8],
  ])
  expect(short(closeInterval(storing, kept.state, 110_000).store)).toEqual([[101, 2]])
  const change: StoringRule = { by: 'change', deadband: 1, heartbeat: 60 }
  const moving = thinReadings(change, undefined, [reading(100, 1)])
  expect(
    short(thinReadings(change, moving.state, [reading(5, 6), reading(6, 6), reading(7, 6)]).store),
  ).toEqual([
    [5, 6],
    [7, 6],
  ])
})

it('lets go of what was stamped by a clock that was ahead, so that what comes after is not late for ever', () => {
  const month = 30 * 86_400_000
  const ahead = { signal: 1, at: month, receivedAt: month, value: 5, quality: 0 as const }
  for (const storing of [
    { by: 'change', deadband: 1, heartbeat: 60 },
    { by: 'interval', seconds: 60, of: 'last' },
  ] as const) {
    const { state } = thinReadings(storing, undefined, [ahead])
    expect(closeInterval(storing, state, month - 1000).state).toBe(state)
    expect(closeInterval(storing, state, 0).state).toBeUndefined()
  }
})

it('stores a text or a place when it is another, or moved further than the deadband in metres', () => {
  const said = (at: number, value: Reading['value']): Reading => ({ ...reading(at, 0), value })
  const storing: StoringRule = { by: 'change', deadband: 50, heartbeat: 3600 }
  const texts = thinReadings(storing, undefined, [said(1, 'idle'), said(2, 'idle'), said(3, 'full')]).store
  expect(texts.map(({ value }) => value)).toEqual(['idle', 'idle', 'full'])
  const here = { lat: 53, lon: -6 }
  const near = { lat: 53.0001, lon: -6 }
  const far = { lat: 53.001, lon: -6 }
  const places = thinReadings(storing, undefined, [said(1, here), said(2, near), said(3, far)]).store
  expect(places.map(({ value }) => value)).toEqual([here, near, far])
  expect(thinReadings(storing, undefined, [said(1, here), said(2, near)]).store).toHaveLength(1)
  const mean = { by: 'interval', seconds: 10, of: 'mean' } as const
  const { state } = thinReadings(mean, undefined, [said(1, 'a'), said(2, 'b')])
  expect(closeInterval(mean, state, 20_000).store.map(({ value }) => value)).toEqual(['b'])
})
