import { byDay, byMonth } from './partitions.ts'

describe('byMonth', () => {
  it('runs from the first of a month to the first of the next, in UTC', () => {
    expect(byMonth(Date.UTC(2026, 11, 31, 23, 59))).toEqual({
      label: '2026_12',
      from: Date.UTC(2026, 11, 1),
      to: Date.UTC(2027, 0, 1),
    })
  })

  it('counts ahead over the turn of the year', () => {
    expect(byMonth(Date.UTC(2026, 10, 30), 2).label).toBe('2027_01')
  })
})

describe('byDay', () => {
  it('runs from midnight to midnight, in UTC', () => {
    expect(byDay(Date.UTC(2026, 1, 28, 12), 1)).toEqual({
      label: '2026_03_01',
      from: Date.UTC(2026, 2, 1),
      to: Date.UTC(2026, 2, 2),
    })
  })
})
