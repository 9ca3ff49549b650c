import { type Calibration, calibrationAt } from '../calibration/calibration.ts'
import type { Slot } from './aggregate.ts'

/**
 * Corrects what readings come to, exactly, as a correction is linear; a negative gain makes the lowest the highest.
 * @param calibrations of which none begins within the bucket: then it is read finer
 */
export function calibrateSlot(calibrations: readonly Calibration[], slot: Slot): Slot {
  const { bucket } = slot
  const found = bucket && calibrationAt(calibrations, bucket.firstAt)
  if (!found) return slot
  const { gain, offset } = found
  const corrected = (value: number): number => value * gain + offset
  const [low, high] = gain < 0 ? (['highest', 'lowest'] as const) : (['lowest', 'highest'] as const)
  return {
    ...slot,
    bucket: {
      ...bucket,
      mean: corrected(bucket.mean),
      m2: bucket.m2 * gain * gain,
      first: corrected(bucket.first),
      last: corrected(bucket.last),
      lowest: corrected(bucket[low]),
      lowestAt: bucket[`${low}At`],
      highest: corrected(bucket[high]),
      highestAt: bucket[`${high}At`],
      squaredDifferences: bucket.squaredDifferences * gain * gain,
    },
  }
}
