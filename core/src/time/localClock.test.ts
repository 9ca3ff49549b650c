import { LocalClock } from './localClock.ts'

const dublin = () => new LocalClock('Europe/Dublin')
const at = (text: string) => Date.parse(text)

it('reads summer and winter', () => {
  expect(dublin().instant(at('2026-07-01T12:00:00Z'))).toBe(at('2026-07-01T11:00:00Z'))
  expect(dublin().instant(at('2026-12-01T12:00:00Z'))).toBe(at('2026-12-01T12:00:00Z'))
  expect(new LocalClock('Asia/Kolkata').instant(at('2026-12-01T12:00:00Z'))).toBe(at('2026-12-01T06:30:00Z'))
})

it('finds that an hour never was when summer time began', () => {
  expect(dublin().instant(at('2026-03-29T01:30:00Z'))).toBeUndefined()
  expect(dublin().instant(at('2026-03-29T02:00:00Z'))).toBe(at('2026-03-29T01:00:00Z'))
})

it('tells the hour that came twice apart by the order of the rows', () => {
  const clock = dublin()
  const shown = ['01:00', '01:30', '01:00', '01:30', '02:00'].map((time) => at(`2026-10-25T${time}:00Z`))
  expect(shown.map((each) => new Date(clock.instant(each) ?? 0).toISOString().slice(11, 16))).toEqual([
    '00:00',
    '00:30',
    '01:00',
    '01:30',
    '02:00',
  ])
})

const read = (clock: LocalClock, ...times: string[]) =>
  times.map((time) => new Date(clock.instant(at(`2026-10-25T${time}:00Z`)) ?? 0).toISOString().slice(11, 16))

it('tells it apart in an hourly series, where the clock shows the same twice', () => {
  expect(read(dublin(), '00:00', '01:00', '01:00', '02:00')).toEqual(['23:00', '00:00', '01:00', '02:00'])
})

it('leaves together what shares its time as a rule', () => {
  expect(read(dublin(), '00:30', '00:30', '01:00', '01:00', '01:30', '01:30')).toEqual([
    '23:30',
    '23:30',
    '00:00',
    '00:00',
    '00:30',
    '00:30',
  ])
})

it('reads a file whose newest row stands first', () => {
  const clock = new LocalClock('Europe/Dublin', 'newest-first')
  expect(read(clock, '02:00', '01:30', '01:00', '01:30', '01:00', '00:30')).toEqual([
    '02:00',
    '01:30',
    '01:00',
    '00:30',
    '00:00',
    '23:30',
  ])
})

it('keeps to a fixed offset where a logger stays on winter time', () => {
  const clock = new LocalClock('+01:00')
  expect(clock.instant(at('2026-07-01T12:00:00Z'))).toBe(at('2026-07-01T11:00:00Z'))
  expect(clock.instant(at('2026-03-29T02:30:00Z'))).toBe(at('2026-03-29T01:30:00Z'))
})
