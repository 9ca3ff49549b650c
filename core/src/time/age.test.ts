import { describeAge } from './age.ts'

describe('describeAge', () => {
  it.each([
    [-500, 'just now'],
    [12_400, '12 s ago'],
    [61_000, '1 min ago'],
    [3 * 3_600_000, '3 h ago'],
    [72 * 3_600_000, '3 d ago'],
  ])('%d ms reads %s', (age, words) => {
    expect(describeAge(age)).toBe(words)
  })
})
