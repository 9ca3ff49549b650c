import { nights } from './nights.ts'

const day = 86_400_000
const london = { lat: 51.5, lon: -0.13 }
const minutesApart = (a: number | undefined, b: string) => Math.abs((a ?? 0) - Date.parse(b)) / 60_000

it.each([
  // Times of sunset and sunrise as almanacs print them, UTC.
  ['London at midsummer', london, '2026-06-21T20:21Z', '2026-06-22T03:43Z'],
  ['London at midwinter', london, '2026-12-21T15:53Z', '2026-12-22T08:04Z'],
  ['Quito at the equinox', { lat: -0.18, lon: -78.47 }, '2026-03-20T23:24Z', '2026-03-21T11:17Z'],
  ['Sydney in January', { lat: -33.87, lon: 151.21 }, '2026-01-01T09:09Z', '2026-01-01T18:48Z'],
])('%s: from sunset to sunrise', (_, place, sunset, sunrise) => {
  const noon = Date.parse(sunset) - 6 * 3_600_000
  const [night, ...others] = nights(noon, noon + day, place)
  expect(others).toEqual([])
  expect(minutesApart(night?.from, sunset)).toBeLessThanOrEqual(3)
  expect(minutesApart(night?.to, sunrise)).toBeLessThanOrEqual(3)
})

it('has no night where the sun does not set, and nothing else where it does not rise', () => {
  const tromso = { lat: 69.65, lon: 18.96 }
  const [summer, winter] = [Date.UTC(2026, 5, 21), Date.UTC(2026, 11, 21)]
  expect(nights(summer, summer + day, tromso)).toEqual([])
  expect(nights(winter, winter + day, tromso)).toEqual([{ from: winter, to: winter + day }])
})
