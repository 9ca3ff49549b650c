import { groundOf } from './ground.ts'
import { onWorld, sightOf, tilesOf } from './mercator.ts'

it('projects as EPSG:3857 does', () => {
  const half = 20_037_508.342789244
  const metres = (place: { lat: number; lon: number }) => {
    const [x, y] = onWorld(place)
    return [(x - 0.5) * 2 * half, (0.5 - y) * 2 * half]
  }
  // The test point of the EPSG guidance note 7-2 for method 1024: 24°22'54.433"N 100°20'00.000"W.
  const [east = 0, north = 0] = metres({ lat: 24.3817869, lon: -100.3333333 })
  expect(east).toBeCloseTo(-11_169_055.58, -1)
  expect(north).toBeCloseTo(2_800_000, -1)
})

it('fits all places into the frame, north up, and tells how long a metre is', () => {
  const places = [
    { lat: 52.1, lon: -8.6 },
    { lat: 52.104, lon: -8.594 },
  ]
  const sight = sightOf(places, 400, 300)
  const [x, y] = sight.to({ lat: 52.1, lon: -8.6 })
  const [east, above] = sight.to({ lat: 52.104, lon: -8.594 })
  expect(x).toBeGreaterThan(0)
  expect(east).toBeLessThan(400)
  expect(above).toBeGreaterThan(0)
  expect(y).toBeLessThan(300)
  // 0.004° of latitude are some 445 m (111.3 km a degree).
  expect((y - above) / sight.scale).toBeCloseTo(445, -1)
})

it('lays tiles side by side over the whole frame, each where it belongs', () => {
  const [width, height] = [400, 300]
  const places = [
    { lat: 52.1, lon: -8.6 },
    { lat: 52.104, lon: -8.594 },
  ]
  const sight = sightOf(places, width, height)
  const tiles = tilesOf(sight, width, height)
  const size = tiles[0]?.size ?? 0
  expect(size).toBeGreaterThan(128)
  expect(size).toBeLessThanOrEqual(256)
  expect(Math.min(...tiles.map(({ x }) => x))).toBeLessThanOrEqual(0)
  expect(Math.min(...tiles.map(({ y }) => y))).toBeLessThanOrEqual(0)
  expect(Math.max(...tiles.map(({ x }) => x + size))).toBeGreaterThanOrEqual(width)
  expect(Math.max(...tiles.map(({ y }) => y + size))).toBeGreaterThanOrEqual(height)
  expect(new Set(tiles.map(({ column, row }) => `${column} ${row}`)).size).toBe(tiles.length)
  expect(tiles.length).toBeLessThanOrEqual(16)
  // Which tile a place is on, as those who cut maps in tiles write it: by the secant.
  for (const { lat, lon } of places) {
    const count = 2 ** (tiles[0]?.zoom ?? 0)
    const phi = (lat * Math.PI) / 180
    const column = Math.floor(((lon + 180) / 360) * count)
    const row = Math.floor(((1 - Math.log(Math.tan(phi) + 1 / Math.cos(phi)) / Math.PI) / 2) * count)
    const tile = tiles.find((each) => each.column === column && each.row === row)
    const [x, y] = sight.to({ lat, lon })
    expect(x - (tile?.x ?? NaN)).toBeGreaterThanOrEqual(0)
    expect(x - (tile?.x ?? NaN)).toBeLessThan(size)
    expect(y - (tile?.y ?? NaN)).toBeGreaterThanOrEqual(0)
    expect(y - (tile?.y ?? NaN)).toBeLessThan(size)
  }
})

it('reads outlines, ways and points of GeoJSON, and nothing of what is none', () => {
  const at = [-8.6, 52.1]
  const ground = groundOf(
    JSON.stringify({
      type: 'FeatureCollection',
      features: [
        { type: 'Feature', geometry: { type: 'Polygon', coordinates: [[at, at, at]] } },
        { type: 'Feature', geometry: { type: 'LineString', coordinates: [at, at] } },
        { type: 'Feature', geometry: { type: 'Point', coordinates: at } },
      ],
    }),
  )
  expect(ground.map(({ places, isClosed }) => [places.length, isClosed])).toEqual([
    [3, true],
    [2, false],
    [1, false],
  ])
  expect(ground[0]?.places[0]).toEqual({ lat: 52.1, lon: -8.6 })
  const deep = `{"type":"Polygon","coordinates":${'['.repeat(100_000)}${']'.repeat(100_000)}}`
  expect(groundOf(deep)).toEqual([])
  for (const text of ['', 'no json', '[]', '{"type":"Polygon","coordinates":"x"}', 'null'])
    expect(groundOf(text)).toEqual([])
})
