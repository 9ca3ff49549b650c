export const second = 1000
export const minute = 60 * second
export const hour = 60 * minute
export const day = 24 * hour

/** A stretch of time, epoch ms. */
interface Stretch {
  readonly from: number
  readonly to: number
}

/**
 * What happened at the creamery in the last thirty days. It is told backwards from a fixed origin, so that the same
 * start gives the same story.
 */
export interface Story {
  /** Someone left the door of cave 1 open over night. */
  readonly openDoor: Stretch
  /** Nothing had power, so nothing was sent. */
  readonly powerCut: Stretch
  /** From here on the humidity probe of cave 2 reads ever higher than the truth. */
  readonly humidityDriftFrom: number
  /** The caves are washed down with hot water every third morning; the steam shows. */
  readonly washDowns: readonly Stretch[]
}

/** @param origin the day the demo was first started, epoch ms */
export function tellStory(origin: number): Story {
  const midnight = Math.floor(origin / day) * day
  const at = (daysAgo: number, hours: number) => midnight - daysAgo * day + hours * hour
  return {
    openDoor: { from: at(9, 21.4), to: at(8, 6.2) },
    powerCut: { from: at(17, 2.1), to: at(17, 5.6) },
    humidityDriftFrom: at(12, 0),
    washDowns: Array.from({ length: 10 }, (_, i) => ({ from: at(1 + i * 3, 7.5), to: at(1 + i * 3, 8.25) })),
  }
}

export const isWithin = (at: number, { from, to }: Stretch): boolean => at >= from && at < to

/** How far something that builds up and fades is along at an instant: 0 before, towards 1 within, fading after. */
export function swell(at: number, { from, to }: Stretch, rise: number, fall: number): number {
  if (at < from) return 0
  const reached = 1 - Math.exp(-(Math.min(at, to) - from) / rise)
  return at < to ? reached : reached * Math.exp(-(at - to) / fall)
}
