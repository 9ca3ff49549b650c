import type { FieldRecord } from './field.ts'
import { parseInstant } from './instant.ts'
import { Quality } from './reading.ts'
import type { SignalDefinition } from './signal.ts'

const minute = 60_000

/** Clocks drift; more than this ahead of us is a clock that was set wrongly. */
const futureAllowance = 5 * minute

/** A real-time clock that was never set starts at 1970 or on the first day of 2000. */
const earliestCredible = Date.UTC(2001, 0, 1)

/** Judges the clock of a record. @returns why it is not believed, or undefined when it is */
function judgeClock(at: number, receivedAt: number): string | undefined {
  if (at > receivedAt + futureAllowance) {
    return `the time "t" (${describeInstant(at)}) lies more than 5 minutes in the future: check the board's clock, its zone, and whether it sends seconds or milliseconds`
  }
  if (at < earliestCredible) {
    return `the time "t" (${describeInstant(at)}) is before 2001: the board's clock is not set; leave "t" out until it is`
  }
  return undefined
}

/**
 * When a record was measured: what it says itself, when that can be believed, else when it came in.
 * @returns epoch ms, or why its time is not taken
 */
export function instantOf({ time }: FieldRecord, receivedAt: number): number | { readonly problem: string } {
  if (time === undefined) return receivedAt
  const at = parseInstant(time)
  if (typeof at !== 'number') return at
  const problem = judgeClock(at, receivedAt)
  return problem === undefined ? at : { problem }
}

/** Judges a value against what the sensor can plausibly say; a value beyond it is kept, and marked. */
export function judgeValue(value: number, { range }: SignalDefinition): Quality {
  const within = (range.low === null || value >= range.low) && (range.high === null || value <= range.high)
  return within ? Quality.good : Quality.beyondRange
}

const describeInstant = (at: number): string => {
  const date = new Date(at)
  return Number.isNaN(date.getTime()) ? String(at) : date.toISOString()
}
