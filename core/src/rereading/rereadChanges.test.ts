import { Quality, type Reading } from '../signal/reading.ts'
import { rereadChanges } from './rereadChanges.ts'

const reading = (signal: number, at: number, value: number, receivedAt = at): Reading => ({
  signal,
  at,
  receivedAt,
  value,
  quality: Quality.good,
})
/** Of messages that came in when their readings were measured, at 10 and 20, or at 11 and 12. */
const changes = (expected: readonly Reading[], stored: readonly Reading[]) =>
  rereadChanges(expected, stored, new Set([10, 11, 12, 20]))
const good = (value: number) => ({ value, quality: Quality.good })

it('finds nothing where nothing was put right', () => {
  const readings = [reading(1, 10, 5), reading(2, 10, 6)]
  expect(changes(readings, readings)).toEqual([])
})

it('changes, adds and removes, each for itself', () => {
  const expected = [reading(1, 10, 50), reading(2, 10, 6), reading(2, 20, 7)]
  const stored = [reading(1, 10, 5), reading(2, 10, 6), reading(3, 10, 9)]
  expect(changes(expected, stored)).toEqual([
    { signal: 1, at: 10, receivedAt: 10, before: good(5), after: good(50) },
    { signal: 2, at: 20, receivedAt: 20, before: null, after: good(7) },
    { signal: 3, at: 10, receivedAt: 10, before: good(9), after: null },
  ])
})

it('lets be what came in with another message', () => {
  const stored = [reading(1, 10, 5, 99), reading(2, 10, 5, 99)]
  expect(changes([reading(1, 10, 50, 10)], stored)).toEqual([])
})

it('takes the first of a reading that was sent twice, as it was stored', () => {
  const expected = [reading(1, 10, 5, 11), reading(1, 10, 6, 12)]
  expect(changes(expected, [reading(1, 10, 5, 11)])).toEqual([])
})

it('keeps what was said of a reading when it came in, or since', () => {
  const quality = Quality.markedBad | Quality.clockDoubted
  expect(changes([reading(1, 10, 5)], [{ ...reading(1, 10, 5), quality }])).toEqual([])
  expect(changes([reading(1, 10, 6)], [{ ...reading(1, 10, 5), quality }])).toMatchObject([
    { after: { value: 6, quality } },
  ])
})

it('notices that the range was put right', () => {
  const stored = [{ ...reading(1, 10, 5), quality: Quality.beyondRange }]
  expect(changes([reading(1, 10, 5)], stored)).toMatchObject([
    { before: { quality: Quality.beyondRange }, after: { quality: Quality.good } },
  ])
})
