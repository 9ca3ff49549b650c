import { tz } from '@date-fns/tz/tz'
import { addDays, addHours, addMonths, startOfDay, startOfHour, startOfMonth } from 'date-fns'

/** An hour, a day or a month of a place, epoch ms: its end is no part of it. */
export interface LocalPeriod {
  readonly from: number
  readonly to: number
}

const steps = {
  hour: [startOfHour, addHours],
  day: [startOfDay, addDays],
  month: [startOfMonth, addMonths],
} as const

/** By what a span is divided there. */
export type PeriodUnit = keyof typeof steps

/**
 * The hours, days or months that a span reaches into, as calendars there have them: of 23 or 25 hours where the clock is changed.
 * @param from,to epoch ms
 * @param zone IANA name
 */
export function localPeriods(from: number, to: number, unit: PeriodUnit, zone: string): LocalPeriod[] {
  const there = { in: tz(zone) }
  const [begin, next] = steps[unit]
  const periods: LocalPeriod[] = []
  let start = begin(from, there)
  while (start.getTime() < to) {
    // Where there was no midnight, the day begins when the clock stepped over it.
    const end = begin(next(start, 1, there), there)
    periods.push({ from: start.getTime(), to: end.getTime() })
    start = end
  }
  return periods
}
