import { drift, roll } from '../noise.ts'
import { day, hour, minute, second } from './story.ts'

/** The time of day as an angle, 0 at midnight (UTC). */
export const dayAngle = (at: number): number => ((at % day) / day) * 2 * Math.PI

/** A number as a probe prints it. */
export const rounded = (value: number, digits: number): number => Number(value.toFixed(digits))

/** A quantity that wanders around its set point: slowly over hours, a little over minutes, and with the probe's own noise. */
export const wander = (seed: number, at: number, slow: number, quick: number, noise: number): number =>
  drift(seed, at, 5 * hour) * slow +
  drift(seed + 1, at, 11 * minute) * quick +
  roll(seed + 2, at / second) * noise
