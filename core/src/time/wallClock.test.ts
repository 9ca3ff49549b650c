import { wallClock } from './wallClock.ts'

it.each([
  ['2026-07-01T12:00:05Z', 'Europe/London', '2026-07-01T13:00:05'],
  ['2026-10-25T01:30:00Z', 'Europe/London', '2026-10-25T01:30:00'],
  ['2026-01-01T20:00:00Z', 'Asia/Kathmandu', '2026-01-02T01:45:00'],
])('at %s a clock in %s shows %s', (at, zone, shown) => {
  expect(wallClock(Date.parse(at), zone)).toBe(shown)
})
