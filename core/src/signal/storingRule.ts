import type { Reading } from './reading.ts'
import { farApart, type SignalValue } from './value.ts'

/**
 * Which readings of a signal are stored; live screens see all of them.
 * `change`: those that leave the deadband around the one stored last, and one at least every heartbeat, seconds.
 * `interval`: of each interval, seconds, the last one, their mean, or the lowest and the highest.
 */
export type StoringRule =
  | { readonly by: 'every' }
  | { readonly by: 'change'; readonly deadband: number; readonly heartbeat: number }
  | { readonly by: 'interval'; readonly seconds: number; readonly of: 'last' | 'mean' | 'range' }

/** What has to be remembered of a signal between its readings. */
export type StoringState =
  | { readonly stored: Reading; readonly passedOver: Reading | undefined }
  | {
      readonly interval: number
      readonly count: number
      readonly sum: number
      readonly lowest: Reading
      readonly highest: Reading
      readonly last: Reading
    }

/** What to store now, and what to remember. */
export interface Thinned {
  readonly store: readonly Reading[]
  readonly state: StoringState | undefined
}

/**
 * Thins the readings of one signal. What is older than what was seen already, such as a backlog after an outage, is thinned
 * by itself.
 * @param readings of this signal, in any order
 */
export function thinReadings(
  storing: StoringRule,
  state: StoringState | undefined,
  readings: readonly Reading[],
): Thinned {
  if (storing.by === 'every') return { store: readings, state: undefined }
  const sorted = [...readings].sort((a, b) => a.at - b.at)
  const late = sorted.filter((reading) => isLate(storing, state, reading))
  const present = late.length === 0 ? sorted : sorted.slice(late.length)
  const step = storing.by === 'change' ? byChange(storing) : byInterval(storing)
  const old = late.length === 0 ? [] : finish(storing, run(step, undefined, late))
  const { store, state: next } = run(step, state, present)
  return { store: [...old, ...store], state: next }
}

/** Later than this, ms, no reading is that was stamped by a clock that is right. */
const aheadBy = 10 * 60_000

/**
 * Closes an interval that is over, and lets go of what was stamped by a clock that was ahead: everything that comes after would
 * seem late beside it.
 * @param now epoch ms
 */
export function closeInterval(storing: StoringRule, state: StoringState | undefined, now: number): Thinned {
  const newest = state && ('interval' in state ? state.last : (state.passedOver ?? state.stored))
  if (newest && newest.at > now + aheadBy)
    return { store: finish(storing, { store: [], state }), state: undefined }
  if (storing.by !== 'interval' || !state || !('interval' in state)) return { store: [], state }
  return (state.interval + 1) * storing.seconds * 1000 > now
    ? { store: [], state }
    : { store: summary(storing, state), state: undefined }
}

type Step = (state: StoringState | undefined, reading: Reading) => Thinned

function run(step: Step, state: StoringState | undefined, readings: readonly Reading[]): Thinned {
  const store: Reading[] = []
  let current = state
  for (const reading of readings) {
    const kept = step(current, reading)
    store.push(...kept.store)
    current = kept.state
  }
  return { store, state: current }
}

/** A backlog is over when it is read: its last interval is closed, its last reading stored. */
function finish(storing: StoringRule, { store, state }: Thinned): readonly Reading[] {
  if (!state) return store
  if ('interval' in state) return storing.by === 'interval' ? [...store, ...summary(storing, state)] : store
  return state.passedOver ? [...store, state.passedOver] : store
}

function isLate(storing: StoringRule, state: StoringState | undefined, { at }: Reading): boolean {
  if (!state || storing.by === 'every') return false
  if ('interval' in state) return storing.by === 'interval' && intervalOf(storing, at) < state.interval
  return at < (state.passedOver ?? state.stored).at
}

const byChange =
  ({ deadband, heartbeat }: Extract<StoringRule, { by: 'change' }>): Step =>
  (state, reading) => {
    if (!state || !('stored' in state))
      return { store: [reading], state: { stored: reading, passedOver: undefined } }
    const { stored, passedOver } = state
    const moved = farApart(reading.value, stored.value) > deadband || reading.quality !== stored.quality
    if (!moved && reading.at - stored.at < heartbeat * 1000)
      return { store: [], state: { stored, passedOver: reading } }
    // With the one before the change the step keeps its edge, where a line would be drawn across.
    return {
      store: moved && passedOver ? [passedOver, reading] : [reading],
      state: { stored: reading, passedOver: undefined },
    }
  }

const byInterval =
  (storing: Extract<StoringRule, { by: 'interval' }>): Step =>
  (state, reading) => {
    const interval = intervalOf(storing, reading.at)
    const open = state && 'interval' in state ? state : undefined
    if (!open || open.interval !== interval) {
      const first = {
        interval,
        count: 1,
        sum: amount(reading.value),
        lowest: reading,
        highest: reading,
        last: reading,
      }
      return { store: open ? summary(storing, open) : [], state: first }
    }
    // What was sent again must not weigh twice.
    const isNew = reading.at > open.last.at
    return {
      store: [],
      state: {
        interval,
        count: isNew ? open.count + 1 : open.count,
        sum: isNew ? open.sum + amount(reading.value) : open.sum,
        lowest: amount(reading.value) < amount(open.lowest.value) ? reading : open.lowest,
        highest: amount(reading.value) > amount(open.highest.value) ? reading : open.highest,
        last: reading.at >= open.last.at ? reading : open.last,
      },
    }
  }

/** What has no amount is stored as the last of its interval, whatever the rule says. */
const amount = (value: SignalValue): number => (typeof value === 'number' ? value : Number.NaN)

const intervalOf = ({ seconds }: Extract<StoringRule, { by: 'interval' }>, at: number): number =>
  Math.floor(at / (seconds * 1000))

function summary(
  { seconds, of }: Extract<StoringRule, { by: 'interval' }>,
  { interval, count, sum, lowest, highest, last }: Extract<StoringState, { interval: number }>,
): Reading[] {
  if (of === 'last' || typeof last.value !== 'number') return [last]
  // The mean stands in the middle of its interval, so that it is the same however often it is found.
  if (of === 'mean')
    return [{ ...last, at: Math.round((interval + 0.5) * seconds * 1000), value: sum / count }]
  if (lowest === highest) return [lowest]
  return lowest.at < highest.at ? [lowest, highest] : [highest, lowest]
}
