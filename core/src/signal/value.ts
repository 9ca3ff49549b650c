/** A place on the earth (WGS 84), degrees; `height` in metres where it was told. */
export interface Position {
  readonly lat: number
  readonly lon: number
  readonly height?: number
}

/** What a reading holds: a number, which for a switch is 0 or 1 and for a choice the code of a state, a text or a position. */
export type SignalValue = number | string | Position

export const isPosition = (value: SignalValue): value is Position => typeof value === 'object'

/** Whether two readings say the same. */
export const sameValue = (one: SignalValue, other: SignalValue): boolean =>
  typeof one === 'object' && typeof other === 'object'
    ? one.lat === other.lat && one.lon === other.lon && one.height === other.height
    : one === other

/** The mean radius of the earth, m (IUGG). */
const earthRadius = 6_371_008.8

const radians = (degrees: number): number => (degrees * Math.PI) / 180

/** The way between two places over a round earth, m (haversine formula). It is at most 0.6 % off the real one. */
export function distance(from: Position, to: Position): number {
  const lat = radians(to.lat - from.lat)
  const lon = radians(to.lon - from.lon)
  const a =
    Math.sin(lat / 2) ** 2 + Math.cos(radians(from.lat)) * Math.cos(radians(to.lat)) * Math.sin(lon / 2) ** 2
  return 2 * earthRadius * Math.asin(Math.min(1, Math.sqrt(a)))
}

/** How far apart two values are: numbers by their difference, positions in metres; texts that differ are endlessly far apart. */
export function farApart(one: SignalValue, other: SignalValue): number {
  if (typeof one === 'number' && typeof other === 'number') return Math.abs(one - other)
  if (typeof one === 'object' && typeof other === 'object') return distance(one, other)
  return one === other ? 0 : Number.POSITIVE_INFINITY
}

/** How a value is written in a sentence. */
export const tellValue = (value: SignalValue): string =>
  typeof value === 'object' ? `${value.lat}, ${value.lon}` : String(value)
