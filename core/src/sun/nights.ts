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

/** Edges are told to the minute: nobody would draw them finer, ms. */
const finest = 60_000
/** A night, or a day, that is shorter than this may be missed: they are those of a few days a year in the far north, ms. */
const stride = 10 * finest

/** The sun has set when its upper edge has: its middle stands half its width below, degrees as the air lets it be seen. */
const set = -0.267

/** When it is night at a place within a span, to the minute; none of them in the summer of the far north. */
export function nights(from: number, to: number, { lat, lon }: Place): Night[] {
  const isDark = (at: number) => getPosition(new Date(at), lat, lon).altitude < set
  const found: { from: number; to: number }[] = []
  let wasDark = false
  for (let at = from; at < to; at += stride) {
    const dark = isDark(at)
    if (dark !== wasDark) {
      const edge = at === from ? at : firstThat(at - stride, at, (each) => isDark(each) === dark)
      const open = found.at(-1)
      if (dark) found.push({ from: edge, to })
      else if (open) open.to = edge
      wasDark = dark
    }
  }
  return found
}

/** The first minute after one at which something does not hold, up to one at which it does. */
function firstThat(before: number, after: number, holds: (at: number) => boolean): number {
  let [low, high] = [0, (after - before) / finest]
  while (high - low > 1) {
    const middle = Math.floor((low + high) / 2)
    if (holds(before + middle * finest)) high = middle
    else low = middle
  }
  return before + high * finest
}
