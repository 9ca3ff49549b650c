import type { Priority } from '../signal/alarm.ts'
import { wallClock } from '../time/wallClock.ts'

/** Of which alarms somebody is told, when, and after how long. */
export interface Telling {
  readonly priorities: readonly Priority[]
  /** On which days of the week, 1 for Monday. */
  readonly days: readonly number[]
  /** Between which times of the day, minutes after midnight: over midnight where the second is earlier; all day where they are equal. */
  readonly from: number
  readonly to: number
  /** How long nobody may have seen it, s; 0 for at once. */
  readonly wait: number
}

/** So many may one way have. */
export const mostTellings = 12
/** The longest that is waited, s. */
export const longestWait = 86_400

const minutesOfDay = 24 * 60

/**
 * Whether somebody is told at an instant, by the clock of the site.
 * @param at epoch ms
 */
export function isTime(
  { days, from, to }: Pick<Telling, 'days' | 'from' | 'to'>,
  at: number,
  zone: string,
): boolean {
  const clock = wallClock(at, zone)
  const minute = Number(clock.slice(11, 13)) * 60 + Number(clock.slice(14, 16))
  const weekday = new Date(`${clock.slice(0, 10)}T00:00:00Z`).getUTCDay() || 7
  if (from === to) return days.includes(weekday)
  if (from < to) return days.includes(weekday) && minute >= from && minute < to
  // What begins in the evening belongs to that day until the morning.
  const begun = minute >= from ? weekday : ((weekday + 5) % 7) + 1
  return days.includes(begun) && (minute >= from || minute < to)
}

/** Says what in a telling contradicts itself, in words; undefined when nothing does. */
export function tellingProblem({ priorities, days, from, to, wait }: Telling): string | undefined {
  if (priorities.length === 0) return 'Pick a priority at least.'
  if (days.length === 0) return 'Pick a day of the week at least.'
  const isMinute = (minute: number) => Number.isInteger(minute) && minute >= 0 && minute < minutesOfDay
  if (!isMinute(from) || !isMinute(to)) return 'A time of the day lies between 00:00 and 23:59.'
  return wait >= 0 && wait <= longestWait ? undefined : 'At most a day is waited.'
}
