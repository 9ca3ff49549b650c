import type { SignalValue } from '../signal/value.ts'
import type { RuleClock } from './ruleClock.ts'

/** What has to be the case, over the signals of a rule. */
export interface Condition {
  /** A formula over the names of the inputs; it holds where what it makes is not 0. */
  readonly formula: string
  /** How long it has to hold without a break, s. */
  readonly atLeast: number
}

/** What is done when nobody knows, because an input is late, silent or at fault. */
export const safeStates = ['act', 'rest', 'stay'] as const
export type SafeState = (typeof safeStates)[number]

/** What commands by itself. Times are seconds. */
export interface Rule {
  /** The signals its conditions are about, each with what the formulas call it. */
  readonly inputs: readonly { readonly name: string; readonly signal: number }[]
  /** When it begins to act; null where the clock alone says. */
  readonly when: Condition | null
  /** When it ends; null where it ends as soon as `when` holds no more. */
  readonly until: Condition | null
  /** The times it may act in; null for any. */
  readonly clock: RuleClock | null
  /** What it asks for while it acts. */
  readonly value: SignalValue
  /** What it asks for while it does not; null where it leaves that to others. */
  readonly otherwise: SignalValue | null
  /** How long it acts, and rests, at least. */
  readonly leastOn: number
  readonly leastOff: number
  /** How often it begins in an hour; null for as often as it likes. */
  readonly mostAnHour: number | null
  readonly whenUnknown: SafeState
  /** Whether it knows nothing any more after the server was away, until its inputs are heard anew. */
  readonly safeAfterAway: boolean
}

/** So many signals may one look at. */
export const mostRuleInputs = 8
/** The longest of its times, s. */
export const longestRuleTime = 86_400
