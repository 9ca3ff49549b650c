import { clockStretches, clockTeller, type RuleClock } from './ruleClock.ts'

const minute = 60_000
const day = 86_400_000
const everyDay = [1, 2, 3, 4, 5, 6, 7]
const at = (hours: number, minutes = 0) => ({ of: 'midnight', minutes: hours * 60 + minutes }) as const
const london = { zone: 'Europe/London', place: { lat: 51.5, lon: -0.13 } }

/** What a clock on the wall shows, as the language itself tells it: day of the week from 1, and minutes. */
const wall = (instant: number, zone: string): { weekday: number; minutes: number } => {
  const parts = new Intl.DateTimeFormat('en-GB', {
    timeZone: zone,
    weekday: 'short',
    hour: '2-digit',
    minute: '2-digit',
    hourCycle: 'h23',
  }).formatToParts(instant)
  const part = (type: string) => parts.find((each) => each.type === type)?.value ?? ''
  return {
    weekday: ['', 'Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'].indexOf(part('weekday')),
    minutes: Number(part('hour')) * 60 + Number(part('minute')),
  }
}

it.each([
  ['within a day', { days: [1, 2, 5], from: at(7, 30), to: at(18) }, '2026-06-08'],
  ['over midnight', { days: [5, 6], from: at(22), to: at(6, 15) }, '2026-06-08'],
  ['over the end of summer time', { days: everyDay, from: at(23), to: at(4) }, '2026-10-23'],
  ['over the beginning of it', { days: everyDay, from: at(0, 30), to: at(3) }, '2026-03-27'],
  ['to midnight', { days: [7], from: at(12), to: at(24) }, '2026-06-08'],
  ['all day', { days: [3, 4], from: at(0), to: at(24) }, '2026-06-08'],
] as [string, RuleClock, string][])('%s: says what the clock on the wall says', (_, clock, since) => {
  const { days, from, to } = clock
  const slowly = ({ weekday, minutes }: ReturnType<typeof wall>) => {
    const before = weekday === 1 ? 7 : weekday - 1
    if (from.minutes < to.minutes)
      return days.includes(weekday) && minutes >= from.minutes && minutes < to.minutes
    return (
      (days.includes(weekday) && minutes >= from.minutes) || (days.includes(before) && minutes < to.minutes)
    )
  }
  const begin = Date.parse(since)
  const tell = clockTeller(clock, london)
  for (let instant = begin; instant < begin + 9 * day; instant += 5 * minute) {
    const told = tell(instant)
    expect([new Date(instant), told.isIn]).toEqual([new Date(instant), slowly(wall(instant, london.zone))])
    expect(told.until).toBeGreaterThan(instant)
    expect(tell(told.until - 1).isIn).toBe(told.isIn)
  }
})

it('goes by the sun of the place, as an almanac has it', () => {
  const clock: RuleClock = {
    days: everyDay,
    from: { of: 'sunset', minutes: 30 },
    to: { of: 'sunrise', minutes: -15 },
  }
  const noon = Date.parse('2026-06-21T12:00Z')
  const [night, ...others] = clockStretches(clock, london, noon, noon + day)
  expect(others).toEqual([])
  expect(Math.abs((night?.from ?? 0) - Date.parse('2026-06-21T20:51Z'))).toBeLessThanOrEqual(3 * minute)
  expect(Math.abs((night?.to ?? 0) - Date.parse('2026-06-22T03:28Z'))).toBeLessThanOrEqual(3 * minute)
})

it('has one long night where the sun does not rise, and none where it does not set', () => {
  const north = { zone: 'Europe/Oslo', place: { lat: 69.65, lon: 18.96 } }
  const dark: RuleClock = {
    days: everyDay,
    from: { of: 'sunset', minutes: 0 },
    to: { of: 'sunrise', minutes: 0 },
  }
  const [winter, summer] = [Date.UTC(2026, 11, 20), Date.UTC(2026, 5, 20)]
  const [night, ...others] = clockStretches(dark, north, winter, winter + 3 * day)
  expect(others).toEqual([])
  expect(night?.from).toBeLessThanOrEqual(winter)
  expect(night?.to).toBeGreaterThanOrEqual(winter + 3 * day)
  expect(clockStretches(dark, north, summer, summer + 3 * day)).toEqual([])
})
