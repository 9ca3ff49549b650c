import { choiceSpans } from './choiceSpans.ts'

it('holds each state until the next, joins what is the same, and ends where a silence begins', () => {
  expect(
    choiceSpans(
      [
        [0, 1],
        [10, 1],
        [20, 2],
        [100, 1],
      ],
      130,
      30,
    ),
  ).toEqual([
    { from: 0, to: 20, value: 1 },
    { from: 20, to: 50, value: 2 },
    { from: 100, to: 130, value: 1 },
  ])
  expect(choiceSpans([], 10, 5)).toEqual([])
})
