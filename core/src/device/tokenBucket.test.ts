import fc from 'fast-check'
import { type Bucket, draw } from './tokenBucket.ts'

const sixty = { perMinute: 60, capacity: 10 }

it('gives what it holds, then says how long to wait', () => {
  let bucket: Bucket | undefined
  for (let n = 0; n < 10; n++) {
    const drawn = draw(bucket, 1, sixty, 0)
    expect(drawn.wait).toBe(0)
    bucket = drawn.bucket
  }
  expect(draw(bucket, 1, sixty, 0).wait).toBe(1000)
  expect(draw(bucket, 3, sixty, 400).wait).toBe(2600)
  expect(draw(bucket, 1, sixty, 1000).wait).toBe(0)
})

it('lets something larger than itself pass when it is full, and only then', () => {
  const { bucket, wait } = draw(undefined, 50, sixty, 0)
  expect(wait).toBe(0)
  expect(draw(bucket, 50, sixty, 9000).wait).toBe(1000)
})

it('neither fills nor empties when the clock steps back', () => {
  const { bucket } = draw(undefined, 10, sixty, 5000)
  expect(draw(bucket, 1, sixty, 0).wait).toBe(1000)
})

it('never gives more than its capacity and what flowed in, whatever is asked when', () => {
  fc.assert(
    fc.property(
      fc.array(
        fc.record({ amount: fc.integer({ min: 1, max: 10 }), gap: fc.integer({ min: 0, max: 5000 }) }),
      ),
      (draws) => {
        let bucket: Bucket | undefined
        let now = 0
        let given = 0
        for (const { amount, gap } of draws) {
          now += gap
          const drawn = draw(bucket, amount, sixty, now)
          bucket = drawn.bucket
          if (drawn.wait === 0) given += amount
        }
        expect(given).toBeLessThanOrEqual(sixty.capacity + now / 1000 + 1e-6)
      },
    ),
  )
})
