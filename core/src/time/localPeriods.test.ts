import { localPeriods } from './localPeriods.ts'

const hour = 3_600_000
const dateThere = (at: number, zone: string) =>
  new Intl.DateTimeFormat('en-CA', { timeZone: zone, dateStyle: 'short' }).format(at)

it.each([
  ['Europe/London', 2026],
  ['America/St_Johns', 2026],
  ['Australia/Lord_Howe', 2026],
  ['Asia/Kathmandu', 2026],
  // Clocks were put on at midnight, so that a day began at one.
  ['America/Sao_Paulo', 2017],
  // A whole day was left out.
  ['Pacific/Apia', 2011],
])('the days of %s in %d begin where the date changes, and follow each other', (zone, year) => {
  const from = Date.UTC(year, 0, 1, 11)
  const days = localPeriods(from, Date.UTC(year + 1, 0, 1), 'day', zone)
  expect(days[0]?.from).toBeLessThanOrEqual(from)
  expect(days.at(-1)?.to).toBeGreaterThanOrEqual(Date.UTC(year + 1, 0, 1))
  for (const [index, day] of days.entries()) {
    expect(dateThere(day.from, zone)).not.toBe(dateThere(day.from - 1, zone))
    expect(dateThere(day.to - 1, zone)).toBe(dateThere(day.from, zone))
    if (index > 0) expect(day.from).toBe(days[index - 1]?.to)
  }
})

it('days are longer or shorter by an hour where the clock is changed, or by half of one', () => {
  const lengths = (zone: string) =>
    new Set(
      localPeriods(Date.UTC(2026, 0), Date.UTC(2027, 0), 'day', zone).map(
        ({ from, to }) => (to - from) / hour,
      ),
    )
  expect(lengths('Europe/London')).toEqual(new Set([24, 23, 25]))
  expect(lengths('Australia/Lord_Howe')).toEqual(new Set([24, 23.5, 24.5]))
})

it('months begin with their first day', () => {
  const months = localPeriods(Date.UTC(2026, 2, 15), Date.UTC(2026, 4, 2), 'month', 'Europe/London')
  expect(months.map(({ from }) => new Date(from).toISOString())).toEqual([
    '2026-03-01T00:00:00.000Z',
    '2026-03-31T23:00:00.000Z',
    '2026-04-30T23:00:00.000Z',
  ])
})
