import { distance, farApart, sameValue } from './value.ts'

describe('distance', () => {
  // A minute of latitude is a nautical mile, 1,852 m, by its old definition; a degree of the equator is 111.32 km.
  it.each([
    [{ lat: 45, lon: 7 }, { lat: 45 + 1 / 60, lon: 7 }, 1852],
    [{ lat: 0, lon: 7 }, { lat: 0, lon: 8 }, 111_320],
    [{ lat: 0, lon: 179.5 }, { lat: 0, lon: -179.5 }, 111_320],
    [{ lat: 90, lon: 0 }, { lat: -90, lon: 0 }, 20_003_931],
    // London to Paris, between the centres that guide books give.
    [{ lat: 51.5074, lon: -0.1278 }, { lat: 48.8566, lon: 2.3522 }, 343_500],
  ])('from %j to %j is %d m', (from, to, metres) => {
    expect(Math.abs(distance(from, to) / metres - 1)).toBeLessThan(0.006)
    expect(distance(to, from)).toBeCloseTo(distance(from, to), 3)
  })
})

it('tells values apart by what they are', () => {
  expect(farApart(3, 1)).toBe(2)
  expect(farApart('a', 'b')).toBe(Number.POSITIVE_INFINITY)
  expect(farApart({ lat: 1, lon: 1 }, { lat: 1, lon: 1 })).toBe(0)
  expect(sameValue({ lat: 1, lon: 1 }, { lat: 1, lon: 1, height: 3 })).toBe(false)
})
