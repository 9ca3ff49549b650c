import fc from 'fast-check'
import { closeInterval, type Keep, type KeepState, keepReadings } from './keep.ts'
import { Quality, type Reading } from './reading.ts'

const reading = (at: number, value: number): Reading => ({
  signal: 1,
  at: at * 1000,
  receivedAt: at * 1000,
  value,
  quality: Quality.good,
})
const short = (readings: readonly Reading[]) => readings.map(({ at, value }) => [at / 1000, value])
/** Thins one reading after the other, as they come in. */
function oneByOne(keep: Keep, readings: readonly Reading[]) {
  let state: KeepState | undefined
  const store: Reading[] = []
  for (const each of readings) {
    const kept = keepReadings(keep, state, [each])
    store.push(...kept.store)
    state = kept.state
  }
  return { store: short(store), state }
}

it('keeps every reading where nothing else was said', () => {
  expect(oneByOne({ by: 'every' }, [reading(1, 5), reading(2, 5)]).store).toHaveLength(2)
})

describe('on change', () => {
  const keep: Keep = { by: 'change', deadband: 0.5, heartbeat: 60 }

  it('keeps what leaves the deadband, with the reading before it', () => {
    const readings = [reading(0, 20), reading(1, 20.4), reading(2, 19.6), reading(3, 21), reading(4, 21)]
    expect(oneByOne(keep, readings).store).toEqual([
      [0, 20],
      [2, 19.6],
      [3, 21],
    ])
  })

  it('keeps one every heartbeat, however still it is', () => {
    const readings = Array.from({ length: 200 }, (_, at) => reading(at, 20))
    expect(oneByOne(keep, readings).store.map(([at]) => at)).toEqual([0, 60, 120, 180])
  })

  it('keeps a change of quality', () => {
    const odd = { ...reading(1, 20), quality: Quality.beyondRange }
    expect(oneByOne(keep, [reading(0, 20), odd]).store).toHaveLength(2)
  })

  it('leaves no reading further from what is stored before it than the deadband', () => {
    const values = fc.array(fc.double({ min: -5, max: 5, noNaN: true }), { minLength: 1 })
    fc.assert(
      fc.property(values, (course) => {
        const all = course.map((value, at) => reading(at, value))
        const { store } = oneByOne(keep, all)
        for (const { at, value } of all) {
          const before = store.findLast(([stored]) => (stored as number) <= at / 1000)
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
    const keep: Keep = { by: 'interval', seconds: 10, of }
    const { store, state } = oneByOne(keep, readings)
    expect(store).toEqual(stored)
    expect(closeInterval(keep, state, 19_999).store).toEqual([])
    const closed = closeInterval(keep, state, 20_000)
    expect(closed.store).toHaveLength(1)
    expect(closed.state).toBeUndefined()
  })

  it('weighs what was sent again once', () => {
    const keep: Keep = { by: 'interval', seconds: 10, of: 'mean' }
    const { state } = oneByOne(keep, [
      reading(1, 4),
      reading(2, 8),
      reading(1, 4),
      reading(2, 8),
      reading(2, 8),
    ])
    expect(short(closeInterval(keep, state, 10_000).store)).toEqual([[5, 6]])
  })

  it('comes to the same in one message as one by one', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.integer({ min: 0, max: 300 }), { minLength: 1 }),
        fc.constantFrom('last' as const, 'mean' as const, 'range' as const),
        (instants, of) => {
          const keep: Keep = { by: 'interval', seconds: 20, of }
          const all = instants.sort((a, b) => a - b).map((at) => reading(at, (at * 37) % 11))
          const atOnce = keepReadings(keep, undefined, all)
          const { store, state } = oneByOne(keep, all)
          expect(short(atOnce.store)).toEqual(store)
          expect(atOnce.state).toEqual(state)
        },
      ),
    )
  })
})

it('thins a backlog by itself, and goes on where it was', () => {
  const keep: Keep = { by: 'interval', seconds: 10, of: 'last' }
  const { state } = keepReadings(keep, undefined, [reading(100, 1)])
  const kept = keepReadings(keep, state, [reading(101, 2), reading(12, 7), reading(5, 6), reading(17, 8)])
  expect(short(kept.store)).toEqual([
    [5, 6],
    [17, 8],
  ])
  expect(short(closeInterval(keep, kept.state, 110_000).store)).toEqual([[101, 2]])
  const change: Keep = { by: 'change', deadband: 1, heartbeat: 60 }
  const moving = keepReadings(change, undefined, [reading(100, 1)])
  expect(
    short(keepReadings(change, moving.state, [reading(5, 6), reading(6, 6), reading(7, 6)]).store),
  ).toEqual([
    [5, 6],
    [7, 6],
  ])
})
