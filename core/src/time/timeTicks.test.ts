import { timeTicks } from './timeTicks.ts'

const iso = (...at: Parameters<typeof Date.UTC>) => Date.UTC(...at)
const labels = (from: number, to: number, zone: string, most = 8) =>
  timeTicks(from, to, most, zone).map(({ at, label }) => [new Date(at).toISOString().slice(0, 16), label])

it('stand at round times of the clock there, and at its midnight', () => {
  // Kolkata is half an hour off the hour.
  expect(labels(iso(2026, 10, 1, 16), iso(2026, 10, 2, 4), 'Asia/Kolkata')).toEqual([
    ['2026-11-01T18:30', '2 Nov'],
    ['2026-11-01T21:30', '03:00'],
    ['2026-11-02T00:30', '06:00'],
    ['2026-11-02T03:30', '09:00'],
  ])
})

it('stand at local midnights across the change of the clocks', () => {
  expect(labels(iso(2026, 9, 23, 12), iso(2026, 9, 27, 12), 'Europe/Dublin', 5)).toEqual([
    ['2026-10-23T23:00', '24 Oct'],
    ['2026-10-24T23:00', '25 Oct'],
    ['2026-10-26T00:00', '26 Oct'],
    ['2026-10-27T00:00', '27 Oct'],
  ])
})

it('stand at months, and at years by their number', () => {
  expect(labels(iso(2025, 7, 15), iso(2026, 4, 15), 'UTC', 4)).toEqual([
    ['2025-10-01T00:00', 'Oct'],
    ['2026-01-01T00:00', '2026'],
    ['2026-04-01T00:00', 'Apr'],
  ])
})

it.each([
  5_000,
  60_000,
  3_600_000,
  86_400_000,
  30 * 86_400_000,
  5 * 365 * 86_400_000,
  200 * 365 * 86_400_000,
])('are some, and not too many, on %d ms', (span) => {
  const from = iso(2026, 2, 28, 20, 7, 3)
  const ticks = timeTicks(from, from + span, 8, 'Europe/Dublin')
  expect(ticks.length).toBeGreaterThanOrEqual(1)
  expect(ticks.length).toBeLessThanOrEqual(9)
  expect(ticks.every(({ at }) => at >= from && at <= from + span)).toBe(true)
  expect([...ticks].sort((a, b) => a.at - b.at)).toEqual(ticks)
})
