import type { Place } from './mercator.ts'

/** A line of a ground, with whether it is closed. */
export interface GroundLine {
  readonly places: readonly Place[]
  readonly isClosed: boolean
}

/** So many places are drawn of a ground. */
const most = 20_000
/** A multi-polygon in a collection of features lies no deeper. */
const deepest = 4

/**
 * Reads lines and outlines out of GeoJSON (RFC 7946): anything with coordinates, features and collections of them.
 * @returns what could be read; nothing of what is no GeoJSON
 */
export function groundOf(text: string): GroundLine[] {
  if (text.trim() === '') return []
  let said: unknown
  try {
    said = JSON.parse(text)
  } catch {
    return []
  }
  const lines: GroundLine[] = []
  let left = most
  const take = (coordinates: unknown, isClosed: boolean, depth = 0): void => {
    if (!Array.isArray(coordinates) || left <= 0 || depth > deepest) return
    if (coordinates.every(isPosition)) {
      const places = coordinates.slice(0, left).map(([lon, lat]) => ({ lat, lon }))
      left -= places.length
      if (places.length > 0) lines.push({ places, isClosed })
    } else for (const inner of coordinates) take(inner, isClosed, depth + 1)
  }
  const read = (thing: unknown, depth: number): void => {
    if (typeof thing !== 'object' || thing === null || depth > deepest) return
    const { type, features, geometry, geometries, coordinates } = thing as Record<string, unknown>
    for (const each of Array.isArray(features) ? features : Array.isArray(geometries) ? geometries : [])
      read(each, depth + 1)
    if (geometry) read(geometry, depth + 1)
    if (type === 'Point') take([coordinates], false)
    else if (coordinates) take(coordinates, String(type).endsWith('Polygon'))
  }
  read(said, 0)
  return lines
}

const isPosition = (thing: unknown): thing is [lon: number, lat: number] =>
  Array.isArray(thing) && typeof thing[0] === 'number' && typeof thing[1] === 'number'
