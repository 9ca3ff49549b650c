import { limitStateOf } from './limitState.ts'

const limits = { lowLow: 0, low: 2, high: 8, highHigh: 10, deadband: 0, onDelay: 0, offDelay: 0 }

it.each([
  [-0.1, 'lowLow'],
  [0, 'low'],
  [1.9, 'low'],
  [2, null],
  [8, null],
  [8.1, 'high'],
  [10, 'high'],
  [10.1, 'highHigh'],
])('%d is beyond %s', (value, state) => {
  expect(limitStateOf(value, limits)).toBe(state)
})

it('is within what is not stated', () => {
  expect(limitStateOf(99, null)).toBeNull()
  expect(limitStateOf(99, { ...limits, high: null, highHigh: null })).toBeNull()
  expect(limitStateOf(-5, { ...limits, lowLow: null })).toBe('low')
})
