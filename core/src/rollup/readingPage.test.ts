import fc from 'fast-check'
import { Quality } from '../signal/reading.ts'
import { type PackedReading, readReadings, writeReadings } from './readingPage.ts'

const anyReading = fc.record(
  {
    at: fc.integer({ min: 0, max: 3_600_000 }).map((ms) => Date.UTC(2026, 0) + ms),
    receivedAt: fc.integer({ min: 0, max: 10_000_000 }).map((ms) => Date.UTC(2026, 0) + ms),
    value: fc.oneof(
      fc.double({ noNaN: true, noDefaultInfinity: true }),
      fc.integer({ min: -9999, max: 9999 }).map((n) => n / 100),
    ),
    raw: fc.double({ noNaN: true, noDefaultInfinity: true }),
    quality: fc.constantFrom(Quality.good, Quality.beyondRange, Quality.atFault),
  },
  { requiredKeys: ['at', 'receivedAt', 'value', 'quality'] },
)

it('readings come back from their page to the last bit, whatever they are', () => {
  fc.assert(
    fc.property(fc.array(anyReading, { maxLength: 80 }), (readings) => {
      expect(readReadings(writeReadings(readings))).toEqual(readings)
    }),
  )
})

it('an hour of a sensor at one second takes a twentieth of its rows', () => {
  const hour: PackedReading[] = Array.from({ length: 3600 }, (_, n) => ({
    at: n * 1000,
    receivedAt: n * 1000 + 40 + (n % 3),
    value: Math.round(2150 + 40 * Math.sin(n / 300) + ((n * 7919) % 5)) / 100,
    quality: Quality.good,
  }))
  // A row with its part of the index takes 92 bytes.
  expect(writeReadings(hour).length / hour.length).toBeLessThan(92 / 20)
})

it('a page of another version, or one that is damaged, is not guessed at', () => {
  const page = writeReadings([{ at: 1, receivedAt: 2, value: 3, quality: 0 }])
  expect(() => readReadings(Uint8Array.of(9, 0))).toThrow('version 9')
  expect(() => readReadings(page.subarray(0, page.length - 2))).toThrow(RangeError)
})
