import type { LimitState } from './limits.ts'

/** How soon somebody has to come: the first is answered before the second. */
export const priorities = ['urgent', 'important', 'minor'] as const
export type Priority = (typeof priorities)[number]

/** A signal that a condition is about: one of the same device by its name, or a certain one of the same site by its number. */
export type InputReference = { readonly named: string } | { readonly signal: number }

/** A signal that a formula is over, and what the formula calls it. */
export interface AlarmInput {
  readonly name: string
  readonly of: InputReference
}

/** What is a reason to raise an alarm. Times are seconds, values in the unit of the signal. */
export type Occasion =
  /** A value beyond a limit of the signal, with the deadband and the delays that are stated there. */
  | { readonly by: 'limit'; readonly limit: LimitState }
  /** A change by more than `most` within `over`. */
  | { readonly by: 'rate'; readonly most: number; readonly over: number }
  /** That it says nothing, as its cadence has it. */
  | { readonly by: 'silence'; readonly from: 'late' | 'silent'; readonly atLeast: number }
  /** That its sensor is at fault, or says what cannot be. */
  | { readonly by: 'fault'; readonly atLeast: number }
  /** One of these states, by their codes: an open door. */
  | { readonly by: 'state'; readonly values: readonly number[]; readonly atLeast: number }
  /** What a formula makes is not 0. */
  | {
      readonly by: 'formula'
      readonly formula: string
      readonly inputs: readonly AlarmInput[]
      readonly atLeast: number
    }

/** While this holds an alarm is suppressed by design: nobody has to know of it. */
export interface Suppression {
  /** Why, as in *it is being washed down*. */
  readonly says: string
  readonly formula: string
  readonly inputs: readonly AlarmInput[]
  /** How long it goes on after that, s: steam lingers. */
  readonly after: number
}

/** An alarm, as it is stated with its signal. Whoever is woken by it reads its texts. */
export interface Alarm {
  /** What it is known by among those of its signal; it stays. */
  readonly key: string
  /** What it is called; empty for what its occasion says by itself. */
  readonly name: string
  readonly occasion: Occasion
  readonly priority: Priority
  /** Why it has that priority. */
  readonly reason: string
  readonly cause: string
  readonly consequence: string
  /** What to do. */
  readonly response: string
  /** How long there is for that, s; null where nobody has said. */
  readonly timeToAct: number | null
  /** Whether it stays after it is over until somebody resets it. */
  readonly isLatching: boolean
  readonly unless: Suppression | null
}

/** What an alarm says beside what it is about, how urgent it is and by which key, where nobody has said any of it. */
export const untoldAlarm: Omit<Alarm, 'key' | 'occasion' | 'priority'> = {
  name: '',
  reason: '',
  cause: '',
  consequence: '',
  response: '',
  timeToAct: null,
  isLatching: false,
  unless: null,
}

/** So many alarms may one signal have. */
export const mostAlarms = 12
/** What keys are made of. */
export const alarmKeyPattern = '^[a-z][a-z0-9-]{0,31}$'
/** The longest of its times, s. */
export const longestAlarmTime = 7 * 86_400
