/** A place, WGS 84 degrees. */
export interface Place {
  readonly lat: number
  readonly lon: number
}

/** The Mercator projection ends before the poles, degrees. */
const farthest = 85.0511

/** Where a place lies on the square of the world, both from 0 to 1 (spherical Mercator, EPSG:3857). */
export function onWorld({ lat, lon }: Place): [x: number, y: number] {
  const phi = (Math.min(farthest, Math.max(-farthest, lat)) * Math.PI) / 180
  return [(lon + 180) / 360, (1 - Math.asinh(Math.tan(phi)) / Math.PI) / 2]
}

/** What of the world is drawn. */
export interface Sight {
  readonly to: (place: Place) => [x: number, y: number]
  /** How many px the whole world is wide. */
  readonly world: number
  /** How many px a metre is, in its middle. */
  readonly scale: number
}

const equator = 40_075_016.686
/** Nearer nobody looks, m from side to side. */
const nearest = 120

/** Fits places into a frame, with room around them. @param width,height px */
export function sightOf(places: readonly Place[], width: number, height: number): Sight {
  const points = places.map(onWorld)
  const xs = points.map(([x]) => x)
  const ys = points.map(([, y]) => y)
  const middle = [(Math.min(...xs) + Math.max(...xs)) / 2, (Math.min(...ys) + Math.max(...ys)) / 2] as const
  const lat = Math.atan(Math.sinh(Math.PI * (1 - 2 * middle[1])))
  const metre = 1 / (equator * Math.cos(lat))
  const across = Math.max(Math.max(...xs) - Math.min(...xs), nearest * metre) * 1.3
  const down = Math.max(Math.max(...ys) - Math.min(...ys), (nearest * metre * height) / width) * 1.3
  const pixels = Math.min(width / across, height / down)
  return {
    to: (place) => {
      const [x, y] = onWorld(place)
      return [width / 2 + (x - middle[0]) * pixels, height / 2 + (y - middle[1]) * pixels]
    },
    world: pixels,
    scale: pixels * metre,
  }
}

/** One square picture of a map that is cut in 2^zoom columns and rows. */
export interface Tile {
  readonly zoom: number
  readonly column: number
  readonly row: number
  /** Where it is drawn, px. */
  readonly x: number
  readonly y: number
  readonly size: number
}

/** Maps are cut no finer. */
const finest = 19
/** A tile has so many px, and is drawn no larger. */
const tileSize = 256

/** The tiles that cover a frame. @param width,height px */
export function tilesOf({ to, world }: Sight, width: number, height: number): Tile[] {
  const zoom = Math.min(finest, Math.max(0, Math.ceil(Math.log2(world / tileSize))))
  const count = 2 ** zoom
  const size = world / count
  const [left, top] = to({ lat: farthest, lon: -180 })
  const within = (from: number, length: number): number[] => {
    const first = Math.max(0, Math.floor(-from / size))
    const last = Math.min(count - 1, Math.floor((length - from) / size))
    return Array.from({ length: Math.max(0, last - first + 1) }, (_, place) => first + place)
  }
  return within(left, width).flatMap((column) =>
    within(top, height).map((row) => ({
      zoom,
      column,
      row,
      x: left + column * size,
      y: top + row * size,
      size,
    })),
  )
}
