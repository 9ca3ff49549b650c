import type { Priority } from '../signal/alarm.ts'
import type { Limits } from '../signal/limits.ts'

/** A signal with its limits, as its board sends it. */
export interface GuardedSignal {
  /** What it is called on the wire, such as `probes/top`. */
  readonly name: string
  readonly limits: Limits
  /** How it is corrected: what is shown is gain times what is stored, and offset. */
  readonly correction: { readonly gain: number; readonly offset: number }
}

/** What a board guards by, as it goes down to it; bounds that are not stated are left out. */
export interface BoardGuard {
  /** By the name of the signal, in what the board sends; `after` and `back` are seconds. */
  readonly limits: Readonly<Record<string, BoardLimits>>
  /** The highest priority of the alarms of the board that nobody has seen; null where there is none. */
  readonly alarm: Priority | null
}

interface BoardLimits {
  readonly lowLow?: number
  readonly low?: number
  readonly high?: number
  readonly highHigh?: number
  readonly deadband: number
  readonly after: number
  readonly back: number
}

const mirrored = { lowLow: 'highHigh', low: 'high', high: 'low', highHigh: 'lowLow' } as const

/**
 * What a board guards by. Its own values are not corrected: bounds are told as they lie among those.
 * @param alarm the highest priority of what nobody has seen
 */
export function boardGuard(signals: readonly GuardedSignal[], alarm: Priority | null): BoardGuard {
  const limits = signals.flatMap(({ name, limits: stated, correction: { gain, offset } }) => {
    // What makes the same of everything says nothing about where a bound lies.
    if (gain === 0) return []
    const bounds = (['lowLow', 'low', 'high', 'highHigh'] as const).flatMap((bound) => {
      const value = stated[bound]
      if (value === null) return []
      return [[gain < 0 ? mirrored[bound] : bound, asSent((value - offset) / gain)] as const]
    })
    if (bounds.length === 0) return []
    const rest = {
      deadband: asSent(stated.deadband / Math.abs(gain)),
      after: stated.onDelay,
      back: stated.offDelay,
    }
    return [[name, { ...Object.fromEntries(bounds), ...rest }] as const]
  })
  return { limits: Object.fromEntries(limits), alarm }
}

/** As exact as boards count. */
const asSent = (value: number): number => Number(value.toPrecision(7))
