import type { Reading } from './reading.ts'

/**
 * Which readings of a signal are stored; live screens see all of them.
 * `change`: those that leave the deadband around the one stored last, and one at least every heartbeat, seconds.
 * `interval`: of each interval, seconds, the last one, their mean, or the lowest and the highest.
 */
export type Keep =
  | { readonly by: 'every' }
  | { readonly by: 'change'; readonly deadband: number; readonly heartbeat: number }
  | { readonly by: 'interval'; readonly seconds: number; readonly of: 'last' | 'mean' | 'range' }

/** What has to be remembered of a signal between its readings. */
export type KeepState =
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
export interface Kept {
  readonly store: readonly Reading[]
  readonly state: KeepState | undefined
}

/**
 * Thins the readings of one signal. What is older than what was seen already, such as a backlog after an outage, is thinned
 * by itself.
 * @param readings of this signal, in any order
 */
export function keepReadings(keep: Keep, state: KeepState | undefined, readings: readonly Reading[]): Kept {
  if (keep.by === 'every') return { store: readings, state: undefined }
  const sorted = [...readings].sort((a, b) => a.at - b.at)
  const late = sorted.filter((reading) => isLate(keep, state, reading))
  const present = late.length === 0 ? sorted : sorted.slice(late.length)
  const step = keep.by === 'change' ? byChange(keep) : byInterval(keep)
  const old = late.length === 0 ? [] : finish(keep, run(step, undefined, late))
  const { store, state: next } = run(step, state, present)
  return { store: [...old, ...store], state: next }
}

/** Closes an interval that is over. @param now epoch ms */
export function closeInterval(keep: Keep, state: KeepState | undefined, now: number): Kept {
  if (keep.by !== 'interval' || !state || !('interval' in state)) return { store: [], state }
  return (state.interval + 1) * keep.seconds * 1000 > now
    ? { store: [], state }
    : { store: summary(keep, state), state: undefined }
}

type Step = (state: KeepState | undefined, reading: Reading) => Kept

function run(step: Step, state: KeepState | undefined, readings: readonly Reading[]): Kept {
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
function finish(keep: Keep, { store, state }: Kept): readonly Reading[] {
  if (!state) return store
  if ('interval' in state) return keep.by === 'interval' ? [...store, ...summary(keep, state)] : store
  return state.passedOver ? [...store, state.passedOver] : store
}

function isLate(keep: Keep, state: KeepState | undefined, { at }: Reading): boolean {
  if (!state || keep.by === 'every') return false
  if ('interval' in state) return keep.by === 'interval' && intervalOf(keep, at) < state.interval
  return at < (state.passedOver ?? state.stored).at
}

const byChange =
  ({ deadband, heartbeat }: Extract<Keep, { by: 'change' }>): Step =>
  (state, reading) => {
    if (!state || !('stored' in state))
      return { store: [reading], state: { stored: reading, passedOver: undefined } }
    const { stored, passedOver } = state
    const moved = Math.abs(reading.value - stored.value) > deadband || reading.quality !== stored.quality
    if (!moved && reading.at - stored.at < heartbeat * 1000)
      return { store: [], state: { stored, passedOver: reading } }
    // With the one before the change the step keeps its edge, where a line would be drawn across.
    return {
      store: moved && passedOver ? [passedOver, reading] : [reading],
      state: { stored: reading, passedOver: undefined },
    }
  }

const byInterval =
  (keep: Extract<Keep, { by: 'interval' }>): Step =>
  (state, reading) => {
    const interval = intervalOf(keep, reading.at)
    const open = state && 'interval' in state ? state : undefined
    if (!open || open.interval !== interval) {
      const first = {
        interval,
        count: 1,
        sum: reading.value,
        lowest: reading,
        highest: reading,
        last: reading,
      }
      return { store: open ? summary(keep, open) : [], state: first }
    }
    // What was sent again must not weigh twice.
    const isNew = reading.at > open.last.at
    return {
      store: [],
      state: {
        interval,
        count: isNew ? open.count + 1 : open.count,
        sum: isNew ? open.sum + reading.value : open.sum,
        lowest: reading.value < open.lowest.value ? reading : open.lowest,
        highest: reading.value > open.highest.value ? reading : open.highest,
        last: reading.at >= open.last.at ? reading : open.last,
      },
    }
  }

const intervalOf = ({ seconds }: Extract<Keep, { by: 'interval' }>, at: number): number =>
  Math.floor(at / (seconds * 1000))

function summary(
  { seconds, of }: Extract<Keep, { by: 'interval' }>,
  { interval, count, sum, lowest, highest, last }: Extract<KeepState, { interval: number }>,
): Reading[] {
  if (of === 'last') return [last]
  // The mean stands in the middle of its interval, so that it is the same however often it is found.
  if (of === 'mean')
    return [{ ...last, at: Math.round((interval + 0.5) * seconds * 1000), value: sum / count }]
  if (lowest === highest) return [lowest]
  return lowest.at < highest.at ? [lowest, highest] : [highest, lowest]
}
