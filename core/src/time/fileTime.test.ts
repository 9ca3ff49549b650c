import { detectTimeFormat, readFileTime, type TimeFormat } from './fileTime.ts'
import { LocalClock } from './localClock.ts'

const read = (text: string, format: TimeFormat, zone = 'Europe/Dublin') =>
  readFileTime(text, format, new LocalClock(zone))
const at = (text: string) => Date.parse(text)

describe('a time in a file', () => {
  it.each<[string, TimeFormat, string]>([
    ['2026-05-01T12:00:00+02:00', 'zoned', '2026-05-01T10:00:00Z'],
    ['1777636800', 'epoch', '2026-05-01T12:00:00Z'],
    ['1777636800500', 'epoch', '2026-05-01T12:00:00.500Z'],
    ['2026-05-01 12:00', 'year-first', '2026-05-01T11:00:00Z'],
    ['2026/5/1 12:00:03.25', 'year-first', '2026-05-01T11:00:03.250Z'],
    ['01.05.2026 12:00:03', 'day-first', '2026-05-01T11:00:03Z'],
    ['1/5/26, 12:30 AM', 'day-first', '2026-04-30T23:30:00Z'],
    ['5/1/2026 1:30 pm', 'month-first', '2026-05-01T12:30:00Z'],
    ['2026-12-24', 'year-first', '2026-12-24T00:00:00Z'],
    ['31.12.2026 24:00', 'day-first', '2027-01-01T00:00:00Z'],
    ['1961-04-12 06:07', 'year-first', '1961-04-12T05:07:00Z'],
    ['2026-05-01 12:00:06+00:00', 'zoned', '2026-05-01T12:00:06Z'],
  ])('%s, %s', (text, format, instant) => {
    expect(read(text, format)).toBe(at(instant))
  })

  it.each<[string, TimeFormat, RegExp]>([
    ['31.04.2026 12:00', 'day-first', /not a time/],
    ['soon', 'year-first', /not a time/],
    ['12', 'zoned', /not a time/],
    ['2026-05-01 25:00', 'year-first', /not a time/],
    ['2026-05-01 24:01', 'year-first', /not a time/],
    ['2026-03-29 01:30', 'year-first', /never was/],
  ])('%s, %s cannot be read', (text, format, problem) => {
    expect(read(text, format)).toMatchObject({ problem: expect.stringMatching(problem) })
  })
})

describe('detectTimeFormat', () => {
  it.each([
    [['2026-05-01T12:00:00Z'], { format: 'zoned', doubtful: false }],
    [['1777636800', '1777636810'], { format: 'epoch', doubtful: false }],
    [['2026-05-01 12:00'], { format: 'year-first', doubtful: false }],
    [['01/05/2026 12:00', '13/05/2026 12:00'], { format: 'day-first', doubtful: false }],
    [['01/05/2026 12:00', '01/13/2026 12:00'], { format: 'month-first', doubtful: false }],
    [['01/05/2026 12:00'], { format: 'day-first', doubtful: true }],
    [['01.05.2026 12:00'], { format: 'day-first', doubtful: false }],
    [
      [...Array.from({ length: 19 }, () => '2026-05-01 12:00'), 'x'],
      { format: 'year-first', doubtful: false },
    ],
    [['21.5', '22'], undefined],
    [['2026-05-01 12:00', 'x'], undefined],
    [[], undefined],
  ])('%j', (texts, found) => {
    expect(detectTimeFormat(texts)).toEqual(found)
  })
})
