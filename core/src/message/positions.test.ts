import { decodeJson } from './decodeJson.ts'
import { decode } from './message.ts'
import { gatherPositions } from './positions.ts'

const fieldsOf = (body: object) => {
  const decoded = decodeJson(JSON.stringify(body), 0)
  if ('failure' in decoded) throw new Error(decoded.failure)
  return decoded[0]?.fields ?? []
}
const gathered = (body: object, taken: readonly string[] = []) =>
  Object.fromEntries(
    gatherPositions(fieldsOf(body), { of: (pointer) => taken.filter((other) => other === pointer) }).map(
      ({ pointer, value }) => [pointer, value],
    ),
  )

it.each([
  [
    { box: { lat: 53.1, lon: -6.2 }, v: 1 },
    { '/box': { lat: 53.1, lon: -6.2 }, '/v': 1 },
  ],
  [{ lat: 53.1, lng: -6.2, alt: 40 }, { '/position': { lat: 53.1, lon: -6.2, height: 40 } }],
  [{ at: { latitude: 0, longitude: 180, altitude: -3 } }, { '/at': { lat: 0, lon: 180, height: -3 } }],
  [{ box: { type: 'Point', coordinates: [-6.2, 53.1] } }, { '/box': { lat: 53.1, lon: -6.2 } }],
  [
    { box: { type: 'Point', coordinates: [-6.2, 53.1, 12] } },
    { '/box': { lat: 53.1, lon: -6.2, height: 12 } },
  ],
])('finds the place in %j', (body, expected) => {
  expect(gathered(body)).toEqual(expected)
})

it.each([
  [{ lat: 53.1 }],
  [{ lat: 91, lon: 0 }],
  [{ lat: '53.1', lon: -6 }],
  [{ flat: 1, flon: 2 }],
  [{ a: { lat: 1 }, b: { lon: 2 } }],
])('lets %j stand as it is', (body) => {
  expect(gathered(body)).toEqual(
    Object.fromEntries(fieldsOf(body).map(({ pointer, value }) => [pointer, value])),
  )
})

const utf8 = (text: string) => new TextEncoder().encode(text)

it.each([
  ['text/csv', 'box/lat,v\n1,2\n', undefined],
  ['text/csv', '/box/lat,/box/lon\n53.1,-6.2\n', '/box'],
  ['text/csv', 'lat;lon\n53.1;-6.2\n', '/position'],
  ['text/x.pairs', 'box.lat=53.1 box.lon=-6.2', '/box'],
  ['application/x-www-form-urlencoded', 'lat=53.1&lon=-6.2', '/position'],
  [
    'application/senml+json',
    '[{"bn":"box/","n":"lat","u":"lat","v":53.1},{"n":"lon","u":"lon","v":-6.2}]',
    '/box',
  ],
])('are found in %s: %s', (mediaType, body, pointer) => {
  const decoded = decode({ mediaType, body: utf8(body) }, 0)
  if (!decoded || 'failure' in decoded) throw new Error('it was not understood')
  const places = decoded.flatMap(({ fields }) => gatherPositions(fields, { of: () => [] }))
  expect(places.find(({ value }) => typeof value === 'object')).toEqual(
    pointer === undefined ? undefined : { pointer, value: { lat: 53.1, lon: -6.2 } },
  )
})

it('leaves members alone that are signals of their own', () => {
  expect(gathered({ lat: 1, lon: 2 }, ['/lon'])).toEqual({ '/lat': 1, '/lon': 2 })
})
