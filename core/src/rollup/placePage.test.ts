import { readPlaces, writePlaces } from './placePage.ts'

it('latitudes and longitudes come back apart, and what is damaged is not guessed at', () => {
  const page = writePlaces(Uint8Array.of(1, 2, 3), Uint8Array.of(9))
  expect(readPlaces(page)).toEqual({ lat: Uint8Array.of(1, 2, 3), lon: Uint8Array.of(9) })
  expect(() => readPlaces(page.subarray(0, 5))).toThrow(RangeError)
})
