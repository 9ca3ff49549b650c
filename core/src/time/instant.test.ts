import { parseInstant } from './instant.ts'

const noon = Date.UTC(2026, 4, 1, 12)

describe('parseInstant', () => {
  it.each([
    ['2026-05-01T12:00:00Z', noon],
    ['2026-05-01T14:00:00+02:00', noon],
    ['2026-05-01T14:00+0200', noon],
    ['2026-05-01 12:00:00+00:00', noon],
    ['2026-05-01t12:00:00z', noon],
    ['2026-05-01 12:00Z', noon],
    ['2026-05-01T12:00:00.250Z', noon + 250],
    [noon, noon],
    [noon / 1000, noon],
    [noon / 1000 + 0.5, noon + 500],
  ])('reads %p', (raw, expected) => {
    expect(parseInstant(raw)).toBe(expected)
  })

  it('keeps the two passes of the hour apart when clocks go back', () => {
    const first = parseInstant('2026-10-25T01:30:00+01:00') as number
    expect(parseInstant('2026-10-25T01:30:00+00:00')).toBe(first + 3_600_000)
  })

  it.each([
    ['2026-05-01T12:00:00', /no time zone/],
    ['2026-02-30T12:00:00Z', /send ISO 8601/],
    ['yesterday', /send ISO 8601/],
    ['2026-05-01 12:00', /no time zone/],
    [`2026-05-01T${'1'.repeat(100_000)}Z`, /send ISO 8601/],
    ['1777636800', /send ISO 8601/],
    [true, /send ISO 8601/],
    [-1, /send ISO 8601/],
    [null, /send ISO 8601/],
  ])('refuses %p in words', (raw, expected) => {
    expect(parseInstant(raw)).toEqual({ problem: expect.stringMatching(expected) })
  })
})
