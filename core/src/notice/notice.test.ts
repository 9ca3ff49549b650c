import fc from 'fast-check'
import { type NoticeLine, noticeText } from './noticeText.ts'
import { retryAfter } from './retryAfter.ts'
import { isTime, tellingProblem } from './telling.ts'

const always = { priorities: ['urgent'], days: [1, 2, 3, 4, 5, 6, 7], from: 0, to: 0, wait: 0 } as const
const minutes = (text: string) => Number(text.slice(0, 2)) * 60 + Number(text.slice(3))

/** What `Intl` says it is there, to be held against. */
function there(at: number, zone: string): { weekday: number; minute: number } {
  const parts = new Intl.DateTimeFormat('en-GB', {
    timeZone: zone,
    weekday: 'short',
    hour: '2-digit',
    minute: '2-digit',
    hourCycle: 'h23',
  }).formatToParts(at)
  const of = (type: string) => parts.find((part) => part.type === type)?.value ?? ''
  const weekday = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'].indexOf(of('weekday')) + 1
  return { weekday, minute: Number(of('hour')) * 60 + Number(of('minute')) }
}

it.each([
  ['from morning to evening', '08:00', '18:00', [1, 2, 3, 4, 5], '2026-11-27T09:00', true],
  ['from morning to evening', '08:00', '18:00', [1, 2, 3, 4, 5], '2026-11-28T09:00', false],
  ['its end is no part of it', '08:00', '18:00', [5], '2026-11-27T18:00', false],
  ['over midnight, in the evening', '22:00', '06:00', [5], '2026-11-27T23:00', true],
  ['over midnight, of the day before', '22:00', '06:00', [5], '2026-11-28T05:59', true],
  ['over midnight, of another day', '22:00', '06:00', [5], '2026-11-27T05:59', false],
  ['all day', '00:00', '00:00', [6], '2026-11-28T00:00', true],
])('tells %s', (_, from, to, days, local, expected) => {
  const telling = { days, from: minutes(from), to: minutes(to) }
  expect(isTime(telling, Date.parse(`${local}:00Z`), 'UTC')).toBe(expected)
})

it('goes by the clock of the site, also where that is put back or forward', () => {
  const year = fc.integer({ min: Date.UTC(2026, 0), max: Date.UTC(2027, 0) })
  const minute = fc.integer({ min: 0, max: 1439 })
  fc.assert(
    fc.property(
      year,
      fc.constantFrom('Europe/Dublin', 'America/St_Johns', 'Asia/Kathmandu'),
      minute,
      minute,
      fc.subarray([1, 2, 3, 4, 5, 6, 7]),
      (at, zone, from, to, days) => {
        const now = there(at, zone)
        const before = now.weekday === 1 ? 7 : now.weekday - 1
        const is =
          from === to
            ? days.includes(now.weekday)
            : from < to
              ? days.includes(now.weekday) && now.minute >= from && now.minute < to
              : (days.includes(now.weekday) && now.minute >= from) ||
                (days.includes(before) && now.minute < to)
        expect(isTime({ days, from, to }, at, zone)).toBe(is)
      },
    ),
  )
})

it('says what contradicts itself', () => {
  expect(tellingProblem(always)).toBeUndefined()
  expect(tellingProblem({ ...always, days: [] })).toMatch(/day of the week/)
  expect(tellingProblem({ ...always, priorities: [] })).toMatch(/priority/)
  expect(tellingProblem({ ...always, to: 1440 })).toMatch(/23:59/)
  expect(tellingProblem({ ...always, wait: 1e6 })).toMatch(/At most a day/)
})

it('waits longer after each attempt, spread a little, and gives up in the end', () => {
  const waits = Array.from({ length: 20 }, (_, attempt) => retryAfter(attempt + 1, 0))
  const given = waits.filter((wait) => wait !== undefined)
  expect(given[0]).toBe(5000)
  expect([...given].sort((a, b) => a - b)).toEqual(given)
  expect(given.length).toBeLessThan(20)
  // All of it is over within a day.
  expect(given.reduce((sum, each) => sum + each, 0)).toBeLessThan(86_400_000)
  expect(retryAfter(1, 1)).toBe(6000)
})

const line: NoticeLine = {
  alarmId: '12.low',
  title: 'Humidity, Cave 1: too low',
  says: '81 %, limit 82',
  priority: 'urgent',
  consequence: 'The rinds crack.',
  response: 'Close the door.',
  timeToAct: 7200,
  raisedAt: 0,
  overAt: null,
}
const clock = (at: number) => new Date(at).toISOString().slice(11, 16)

it('says what is the case, what to do, and where it is answered', () => {
  expect(noticeText('alarm', [line], 1, clock, 'http://here/seen#x')).toEqual({
    subject: 'Urgent: Humidity, Cave 1: too low',
    text: `Humidity, Cave 1: too low
81 %, limit 82 · since 00:00 · urgent
What to do: Close the door.
Why it matters: The rinds crack.
Time to act: 2 h

I see to it: http://here/seen#x
(It shows first what it is about, and works once.)
`,
  })
})

it('tells several as one, and one word when they are over', () => {
  const many = noticeText('alarm', [line, { ...line, says: '', priority: 'minor' }], 2000, clock, null)
  expect(many.subject).toBe('2000 alarms, Humidity, Cave 1: too low the first')
  expect(many.text).toContain('and 1998 more.')
  const over = noticeText('over', [{ ...line, overAt: 3_600_000 }], 1, clock, null)
  expect(over).toEqual({
    subject: 'Over: Humidity, Cave 1: too low',
    text: 'Humidity, Cave 1: too low\nover: 00:00 to 01:00\n',
  })
})
