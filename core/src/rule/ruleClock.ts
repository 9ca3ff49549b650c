import { tz } from '@date-fns/tz/tz'
import { getISODay, set } from 'date-fns'
import { nights, type Place } from '../sun/index.ts'
import { type LocalPeriod, localPeriods } from '../time/index.ts'

/** A time of day: minutes after midnight, or minutes after (before, where negative) the sun rises or sets. */
export interface ClockMoment {
  readonly of: 'midnight' | 'sunrise' | 'sunset'
  readonly minutes: number
}

/** A stretch of certain days: over midnight, where its end lies before its beginning. */
export interface RuleClock {
  /** Days of the week on which it begins, 1 for Monday to 7 for Sunday. */
  readonly days: readonly number[]
  readonly from: ClockMoment
  readonly to: ClockMoment
}

/** Where a clock hangs. */
export interface ClockPlace {
  /** IANA name. */
  readonly zone: string
  /** Null where nobody knows where it is: then it has no sun. */
  readonly place: Place | null
}

/** Whether it is the time, and up to when that is known not to change, epoch ms. */
export interface ClockState {
  readonly isIn: boolean
  readonly until: number
}

const day = 86_400_000
const minute = 60_000

/**
 * The stretches of a clock that reach into a span, the earliest first, those that touch as one. Where the sun does not set all day,
 * its evening is the end of the day; where it does not rise, the night began with it.
 * @param from,to epoch ms
 */
export function clockStretches(
  clock: RuleClock,
  { zone, place }: ClockPlace,
  from: number,
  to: number,
): LocalPeriod[] {
  const there = { in: tz(zone) }
  const days = localPeriods(from - 2 * day, to + 2 * day, 'day', zone)
  const momentOn = ({ of, minutes }: ClockMoment, local: LocalPeriod): number => {
    if (of !== 'midnight') return sunOn(of, local, place) + minutes * minute
    // Midnight at the end of a day is the beginning of the next.
    if (minutes >= 24 * 60) return local.to
    return set(local.from, { hours: Math.floor(minutes / 60), minutes: minutes % 60 }, there).getTime()
  }
  const found: LocalPeriod[] = []
  for (const [index, local] of days.entries()) {
    const next = days[index + 1]
    if (!next || !clock.days.includes(getISODay(local.from, there))) continue
    const begin = momentOn(clock.from, local)
    const sameDay = momentOn(clock.to, local)
    const end = sameDay > begin ? sameDay : momentOn(clock.to, next)
    const before = found.at(-1)
    if (end <= begin) continue
    if (before && begin <= before.to) found.splice(-1, 1, { ...before, to: Math.max(before.to, end) })
    else found.push({ from: begin, to: end })
  }
  return found.filter((stretch) => stretch.to > from && stretch.from < to)
}

function sunOn(of: 'sunrise' | 'sunset', { from, to }: LocalPeriod, place: Place | null): number {
  const dark = place ? nights(from, to, place) : []
  if (of === 'sunset') return dark.findLast((night) => night.from > from)?.from ?? (dark[0] ? from : to)
  return dark.find((night) => night.to < to)?.to ?? (dark[0] ? to : from)
}

/** Looks so far ahead at a time. */
const stride = 4 * day

/** Tells the time by a clock, at one instant after the other. */
export function clockTeller(clock: RuleClock, where: ClockPlace): (at: number) => ClockState {
  let known: { readonly from: number; readonly to: number; readonly stretches: LocalPeriod[] } | undefined
  return (at) => {
    if (!known || at < known.from || at >= known.to)
      known = { from: at, to: at + stride, stretches: clockStretches(clock, where, at, at + stride) }
    const next = known.stretches.find(({ to }) => to > at)
    if (!next) return { isIn: false, until: known.to }
    return next.from <= at
      ? { isIn: true, until: Math.min(next.to, known.to) }
      : { isIn: false, until: Math.min(next.from, known.to) }
  }
}
