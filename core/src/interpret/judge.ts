import type { FieldRecord } from '../message/field.ts'
import { isWithin } from '../signal/isWithin.ts'
import { isVoid, Quality, type QualityBits, type Reading } from '../signal/reading.ts'
import type { SignalDefinition } from '../signal/signal.ts'
import { parseInstant } from '../time/instant.ts'
import type { Converted } from './convert.ts'

const minute = 60_000

/** Clocks drift; more than this ahead of us is a clock that was set wrongly. */
const futureAllowance = 5 * minute

/** A real-time clock that was never set starts at 1970 or on the first day of 2000. */
const earliestCredible = Date.UTC(2001, 0, 1)

/** What a person brings may be as old as the records people keep. */
const earliestByHand = Date.UTC(1900, 0, 1)

/** The instants a reading is believed to be of, epoch ms, both ends included. */
export interface Believed {
  readonly from: number
  readonly to: number
  /** Whether the clock of the server is doubted, which stamps what has no time of its own. */
  readonly isOwnClockDoubted: boolean
}

/**
 * The instants that are believed of what came in at one, epoch ms.
 * @param byHand whether a person brought it, who knows how old it is
 * @param isOwnClockDoubted whether what has no time of its own is stamped by a clock that may be wrong
 * @param newest an instant known to have been, epoch ms: where our own clock was set back, theirs may still be right
 */
export const believed = (
  receivedAt: number,
  byHand = false,
  newest = receivedAt,
  isOwnClockDoubted = false,
): Believed => ({
  isOwnClockDoubted,
  from: byHand ? earliestByHand : earliestCredible,
  to: Math.max(receivedAt, newest) + futureAllowance,
})

/** Judges the clock of a record. @returns why it is not believed, or undefined when it is */
function judgeClock(at: number, { from, to }: Believed): string | undefined {
  if (at > to) {
    return `the time "t" (${describeInstant(at)}) lies more than 5 minutes in the future: check the board's clock, its zone, and whether it sends seconds or milliseconds`
  }
  if (at < from) {
    return from === earliestCredible
      ? `the time "t" (${describeInstant(at)}) is before 2001: the board's clock is not set; leave "t" out until it is`
      : `the time (${describeInstant(at)}) is before 1900`
  }
  return undefined
}

/**
 * When a record was measured: what it says itself, when that can be believed, else when it came in.
 * @returns epoch ms, or why its time is not taken
 */
export function instantOf(
  { time }: FieldRecord,
  receivedAt: number,
  range: Believed = believed(receivedAt),
): number | { readonly problem: string } {
  if (time === undefined) return receivedAt
  const at = parseInstant(time)
  if (typeof at !== 'number') return at
  const problem = judgeClock(at, range)
  return problem === undefined ? at : { problem }
}

/** A reading as far as the next one is judged by it. */
export type Stored = Pick<Reading, 'at' | 'value' | 'quality'>

/**
 * Judges a value: whether it means a fault, else by what the sensor can plausibly say and how fast that can change. It is kept
 * whatever comes of that, and marked.
 * @param at when it was measured, epoch ms
 * @param previous the reading before it; one that is younger, or says nothing, does not count
 */
export function judge(
  { value, raw }: Converted,
  at: number,
  { faults, range, greatestRate }: Pick<SignalDefinition, 'faults' | 'range' | 'greatestRate'>,
  previous?: Stored,
): QualityBits {
  if (typeof value !== 'number') return Quality.good
  const sent = raw ?? value
  for (const fault of faults) if (fault.value === sent) return Quality.atFault
  const inRange = isWithin(value, range) ? Quality.good : Quality.beyondRange
  if (greatestRate === null || !previous || previous.at >= at || isVoid(previous.quality)) return inRange
  const moved = typeof previous.value === 'number' ? Math.abs(value - previous.value) : 0
  return (moved * 1000) / (at - previous.at) > greatestRate ? inRange | Quality.tooFast : inRange
}

/** A clock that is so much ahead of ours is let pass, and doubted, ms. */
const doubtfullyAhead = minute

/** Judges who stamped a reading: a clock that runs ahead, or ours while it is doubted. */
export function judgeStamp(
  { time }: Pick<FieldRecord, 'time'>,
  at: number,
  receivedAt: number,
  { isOwnClockDoubted }: Believed,
): QualityBits {
  const isDoubted = time === undefined ? isOwnClockDoubted : at - receivedAt > doubtfullyAhead
  return isDoubted ? Quality.clockDoubted : Quality.good
}

const describeInstant = (at: number): string => {
  const date = new Date(at)
  return Number.isNaN(date.getTime()) ? String(at) : date.toISOString()
}
