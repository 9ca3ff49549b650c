import type { Occasion } from '../signal/alarm.ts'
import type { Limits } from '../signal/limits.ts'
import type { Level } from './levelWatch.ts'

/** An occasion that readings of one signal are enough for. */
export type LevelOccasion = Exclude<Occasion, { by: 'formula' }>

/**
 * What is watched of a signal for an occasion.
 * @param limits those of the signal
 * @param lateness how late a reading may come in and still count, ms, beside the time that is waited anyhow
 * @returns undefined where it is about a limit that is not stated
 */
export function levelOf(occasion: LevelOccasion, limits: Limits | null, lateness: number): Level | undefined {
  const timely = (level: Omit<Level, 'lateness'>): Level => ({
    ...level,
    lateness: lateness + level.onDelay * 1000,
  })
  switch (occasion.by) {
    case 'limit': {
      const bound = limits?.[occasion.limit] ?? null
      if (limits === null || bound === null) return undefined
      const { deadband, onDelay, offDelay } = limits
      const isUpper = occasion.limit === 'high' || occasion.limit === 'highHigh'
      const back = isUpper ? bound - deadband : bound + deadband
      return timely({
        reads: (value) => {
          if (value === null) return 'unknown'
          if (isUpper ? value > bound : value < bound) return 'beyond'
          return (isUpper ? value <= back : value >= back) ? 'within' : 'between'
        },
        onDelay,
        offDelay,
        worse: isUpper ? 'up' : 'down',
      })
    }
    case 'rate':
      return timely({
        reads: (swing) => (swing === null ? 'unknown' : swing > occasion.most ? 'beyond' : 'within'),
        onDelay: 0,
        offDelay: 0,
        worse: 'up',
      })
    case 'silence':
      return timely({ ...whereTrue((value) => value === 1), onDelay: occasion.atLeast })
    case 'fault':
      return timely({ ...whereTrue((value) => value === null), onDelay: occasion.atLeast })
    case 'state':
      return timely({
        reads: (value) =>
          value === null ? 'unknown' : occasion.values.includes(value) ? 'beyond' : 'within',
        onDelay: occasion.atLeast,
        offDelay: 0,
        worse: null,
      })
  }
}

/** It is so, or it is not; nothing lies between, and it does not get worse. */
const whereTrue = (isSo: (value: number | null) => boolean) => ({
  reads: (value: number | null) => (isSo(value) ? ('beyond' as const) : ('within' as const)),
  offDelay: 0,
  worse: null,
})
