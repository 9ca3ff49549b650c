import type { SignalValue } from './value.ts'

/**
 * What is to be known before a stored value is trusted, each a bit of its own. Stored as a small integer, so the numbers never
 * change their meaning.
 */
export const Quality = {
  good: 0,
  /** Beyond what the sensor can plausibly say. */
  beyondRange: 1,
  /** It changed faster than what is measured can. */
  tooFast: 2,
  /** The clock that stamped it is doubted. */
  clockDoubted: 4,
  /** Its value means that the sensor is at fault. */
  atFault: 8,
  /** A person said not to count it. */
  markedBad: 16,
} as const

/** The bits of `Quality` together. */
export type QualityBits = number

export const hasQuality = (bits: QualityBits, quality: number): boolean => (bits & quality) !== 0

/** Whether a value says nothing of what is measured: it stands in no statistics. */
export const isVoid = (bits: QualityBits): boolean => hasQuality(bits, Quality.atFault | Quality.markedBad)

/** One value of one signal at one instant. Instants are epoch milliseconds. */
export interface Reading {
  readonly signal: number
  /** When it was measured. */
  readonly at: number
  /** When it came in. */
  readonly receivedAt: number
  /** In the signal's unit, before calibration. */
  readonly value: SignalValue
  /** What was sent, where a conversion made the value of it. */
  readonly raw?: number
  readonly quality: QualityBits
}
