import { tzOffset } from '@date-fns/tz/tzOffset'

/** A mark on an axis of time. */
export interface TimeTick {
  /** Epoch ms. */
  readonly at: number
  readonly label: string
}

const second = 1000
const minute = 60 * second
const hour = 60 * minute
const day = 24 * hour

const short = [1, 5, 15, 30].flatMap((count) => [count * second, count * minute])
const hours = [1, 3, 6, 12].map((count) => count * hour)
const days = [1, 2, 7, 14].map((count) => count * day)
const steps = [...short, ...hours, ...days].sort((a, b) => a - b)
const months = [1, 3, 6, 12, 24, 60, 120, 240, 600]
const month = 30.4375 * day

/**
 * Marks for an axis of time at round times of the clock and the calendar there.
 * @param from,to what the axis shows, epoch ms
 * @param most how many marks there may be
 * @param timeZone IANA name
 */
export function timeTicks(from: number, to: number, most: number, timeZone: string): TimeTick[] {
  const zone = new Zone(timeZone)
  const step = steps.find((each) => (to - from) / each <= most)
  if (step === undefined) return monthTicks(zone, from, to, most)
  const ticks: TimeTick[] = []
  // On the clock there, round times are as far apart as here; what one clock skips or repeats the other does not.
  for (let wall = Math.ceil((zone.wall(from) - hour) / step) * step; ; wall += step) {
    const at = zone.instant(wall)
    if (at > to) return ticks
    if (at >= from && at > (ticks.at(-1)?.at ?? Number.NEGATIVE_INFINITY))
      ticks.push({ at, label: label(wall, step) })
  }
}

function monthTicks(zone: Zone, from: number, to: number, most: number): TimeTick[] {
  const count = months.find((each) => (to - from) / (each * month) <= most) ?? 1200
  const start = new Date(zone.wall(from))
  const ticks: TimeTick[] = []
  for (let number = start.getUTCFullYear() * 12 + start.getUTCMonth(); ; number++) {
    if (number % count !== 0) continue
    const wall = Date.UTC(Math.floor(number / 12), number % 12)
    const at = zone.instant(wall)
    if (at > to) return ticks
    if (at >= from)
      ticks.push({
        at,
        label: number % 12 === 0 ? write(wall, { year: 'numeric' }) : write(wall, { month: 'short' }),
      })
  }
}

function label(wall: number, step: number): string {
  if (wall % day === 0) return write(wall, { day: 'numeric', month: 'short' })
  const clock = { hour: '2-digit', minute: '2-digit' } as const
  return write(wall, step < minute ? { ...clock, second: '2-digit' } : clock)
}

/** One for each way of writing: making one costs more than a hundred times using it. */
const formats = new Map<string, Intl.DateTimeFormat>()

function write(wall: number, options: Intl.DateTimeFormatOptions): string {
  const key = Object.entries(options).join()
  let format = formats.get(key)
  if (!format) {
    format = new Intl.DateTimeFormat('en-GB', { ...options, timeZone: 'UTC' })
    formats.set(key, format)
  }
  return format.format(wall)
}

/** The clock on the wall of a place, as ms since the epoch if it were UTC. */
class Zone {
  readonly #name: string

  constructor(name: string) {
    this.#name = name
  }

  wall(at: number): number {
    return at + this.#offset(at)
  }

  instant(wall: number): number {
    const near = wall - this.#offset(wall)
    return wall - this.#offset(near)
  }

  #offset(at: number): number {
    return tzOffset(this.#name, new Date(at)) * minute
  }
}
