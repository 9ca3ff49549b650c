import { allowanceOf, largestMessage } from './allowance.ts'

const nothing = { messagesPerMinute: null, readingsPerMinute: null, messageBytes: null }

it('allows ten times the cadence, and never less than a person on the bench needs', () => {
  expect(allowanceOf(nothing, 2)).toEqual({
    messagesPerMinute: 300,
    readingsPerMinute: 6000,
    messageBytes: largestMessage,
    bytesPerMinute: 300 * 1024,
  })
  expect(allowanceOf(nothing, 600).messagesPerMinute).toBe(60)
  expect(allowanceOf(nothing, null).messagesPerMinute).toBe(600)
})

it('takes what was stated, each by itself', () => {
  expect(allowanceOf({ ...nothing, messagesPerMinute: 5 }, 2)).toMatchObject({
    messagesPerMinute: 5,
    readingsPerMinute: 100,
  })
  expect(allowanceOf({ ...nothing, readingsPerMinute: 7 }, 2)).toMatchObject({
    messagesPerMinute: 300,
    readingsPerMinute: 7,
  })
})
