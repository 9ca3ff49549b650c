import { isVoid, type QualityBits } from '../signal/reading.ts'
import { type Bucket, join } from './bucket.ts'

/** A reading as far as it matters for what many come to. */
export interface Counted {
  /** Epoch ms. */
  readonly at: number
  readonly value: number
  readonly quality: QualityBits
}

/** A bucket of a level; what says nothing of what is measured is only counted. */
export interface Slot {
  readonly bucket: Bucket | undefined
  readonly voids: number
}

/**
 * What readings come to, bucket by bucket.
 * @param readings of one signal, in order of time
 * @param length of a bucket, ms; they lie on multiples of it
 * @param hasStates whether the values are codes of states
 * @returns by the number of the bucket since the epoch, in order
 */
export function aggregate(
  readings: readonly Counted[],
  length: number,
  hasStates: boolean,
): Map<number, Slot> {
  const slots = new Map<number, Slot>()
  for (let start = 0; start < readings.length; ) {
    const number = Math.floor((readings[start] as Counted).at / length)
    let end = start + 1
    while (end < readings.length && Math.floor((readings[end] as Counted).at / length) === number) end++
    slots.set(number, slotOf(readings, start, end, hasStates))
    start = end
  }
  return slots
}

/**
 * What the readings from one place to another come to; mean and M2 as they grow by one, after B. P. Welford (1962). In one go:
 * this is done for every reading there is.
 */
function slotOf(readings: readonly Counted[], start: number, end: number, hasStates: boolean): Slot {
  let [count, mean, m2, squaredDifferences, longestGap, changes, voids] = [0, 0, 0, 0, 0, 0, 0]
  let [first, lowest, highest, last]: (Counted | undefined)[] = []
  const lasted = new Map<number, number>()
  for (let index = start; index < end; index++) {
    const reading = readings[index] as Counted
    const { at, value, quality } = reading
    if (isVoid(quality)) {
      voids++
      continue
    }
    count++
    const apart = value - mean
    mean += apart / count
    m2 += apart * (value - mean)
    if (lowest === undefined || value < lowest.value) lowest = reading
    if (highest === undefined || value > highest.value) highest = reading
    if (last === undefined) first = reading
    else {
      const silence = at - last.at
      squaredDifferences += (value - last.value) ** 2
      if (silence > longestGap) longestGap = silence
      if (hasStates) {
        lasted.set(last.value, (lasted.get(last.value) ?? 0) + silence)
        if (value !== last.value) changes++
      }
    }
    last = reading
  }
  if (!first || !lowest || !highest || !last) return { bucket: undefined, voids }
  const bucket = {
    count,
    mean,
    m2,
    first: first.value,
    firstAt: first.at,
    last: last.value,
    lastAt: last.at,
    lowest: lowest.value,
    lowestAt: lowest.at,
    highest: highest.value,
    highestAt: highest.at,
    squaredDifferences,
    longestGap,
  }
  return { bucket: hasStates ? { ...bucket, states: { changes, lasted } } : bucket, voids }
}

/** Joins buckets of one level to longer ones. @param times how many make one of the longer */
export function coarser(slots: ReadonlyMap<number, Slot>, times: number): Map<number, Slot> {
  const joined = new Map<number, Slot>()
  for (const [number, slot] of [...slots].sort(([a], [b]) => a - b)) {
    const into = Math.floor(number / times)
    joined.set(into, joinSlots(joined.get(into) ?? nothing, slot))
  }
  return joined
}

const nothing: Slot = { bucket: undefined, voids: 0 }

/** Joins what came to pass in two spans, the earlier first. */
export const joinSlots = (earlier: Slot, later: Slot): Slot => ({
  bucket:
    earlier.bucket && later.bucket ? join(earlier.bucket, later.bucket) : (earlier.bucket ?? later.bucket),
  voids: earlier.voids + later.voids,
})
