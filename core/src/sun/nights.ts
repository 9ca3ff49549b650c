import { getPosition } from 'suncalc'

/** A place, degrees (WGS 84). */
export interface Place {
  readonly lat: number
  readonly lon: number
}

/** A stretch of time, epoch ms. */
export interface Night {
  readonly from: number
  readonly to: number
}

/** Sun and moon move by so little in it that nobody would draw it finer, ms. */
const step = 60_000

/** The sun has set when its upper edge has: its middle stands half its width below, degrees as the air lets it be seen. */
const set = -0.267

/** When it is night at a place within a span, to the minute; none of them in the summer of the far north. */
export function nights(from: number, to: number, { lat, lon }: Place): Night[] {
  const found: { from: number; to: number }[] = []
  for (let at = from; at < to; at += step) {
    if (getPosition(new Date(at), lat, lon).altitude >= set) continue
    const open = found.at(-1)
    const end = Math.min(at + step, to)
    if (open?.to === at) open.to = end
    else found.push({ from: at, to: end })
  }
  return found
}
