import { monthOf } from './partitions.ts'

describe('monthOf', () => {
  it('runs from the first of a month to the first of the next, in UTC', () => {
    expect(monthOf(Date.UTC(2026, 11, 31, 23, 59))).toEqual({
      table: 'reading_2026_12',
      from: Date.UTC(2026, 11, 1),
      to: Date.UTC(2027, 0, 1),
    })
  })

  it('counts ahead over the turn of the year', () => {
    expect(monthOf(Date.UTC(2026, 10, 30), 2).table).toBe('reading_2027_01')
  })
})
