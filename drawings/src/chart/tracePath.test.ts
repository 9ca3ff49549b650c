import { tracePath } from './tracePath.ts'

const same = (number: number) => number

describe('tracePath', () => {
  it('breaks the line where nobody knows what was', () => {
    expect(
      tracePath(
        [
          [0, 1],
          [10, 2],
          [100, 3],
        ],
        same,
        same,
        50,
        false,
      ),
    ).toBe('M0.0 1.0L10.0 2.0M100.0 3.0')
  })

  it('holds the value of a switch until the next one', () => {
    expect(
      tracePath(
        [
          [0, 0],
          [10, 1],
        ],
        same,
        same,
        50,
        true,
      ),
    ).toBe('M0.0 0.0H10.0V1.0')
  })
})
