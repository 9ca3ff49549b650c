import { levels, pageOf, readSlots } from '@jaunty-sparrow/core/rollup'
import type { SignalKind } from '@jaunty-sparrow/core/signal'
import type pg from 'pg'
import { axesOf, partOf } from '../rollups/axis.ts'

/** Each stroke of a strip is for so long, ms; there are buckets of that length. */
export const slot = levels[1]
const slotsOfDay = 288
const minutesOfSlot = slot / 60_000

/** What came in, slot by slot. */
export interface CameIn {
  /** Epoch ms. */
  readonly from: number
  readonly to: number
  readonly came: readonly number[]
}

/** Reads how much came in at sites. */
export class DayReader {
  readonly #pool: pg.Pool

  constructor(pool: pg.Pool) {
    this.#pool = pool
  }

  /**
   * How many readings came in within the 24 hours up to an instant. Arrivals are counted since there is something that counts
   * them; of the time before, it is told what is stored that was measured then.
   * @param signals those of the site, by their numbers
   */
  async read(site: number, signals: ReadonlyMap<number, SignalKind>, end: number): Promise<CameIn> {
    const last = Math.ceil(end / slot)
    const first = last - slotsOfDay
    const came = Array.from({ length: slotsOfDay }, () => 0)
    const add = (number: number, count: number) => {
      const index = number - first
      if (index >= 0 && index < slotsOfDay) came[index] = (came[index] ?? 0) + count
    }
    const counted = await this.#arrivals(site, first, last)
    for (const [number, count] of counted.slots) add(number, count)
    if (counted.since > first)
      for (const [number, count] of await this.#measured(signals, first, last))
        if (number < counted.since) add(number, count)
    return { from: first * slot, to: last * slot, came }
  }

  /** By slot what arrived, and the first slot of which that is known. */
  async #arrivals(
    site: number,
    first: number,
    last: number,
  ): Promise<{ slots: [number, number][]; since: number }> {
    const { rows } = await this.#pool.query<[number, number]>({
      name: 'arrivals-of-day',
      text: `select minute / ${minutesOfSlot}, sum(readings)::float8 from arrival_count
        where site_id = $1 and minute >= $2 and minute < $3 group by 1`,
      values: [site, first * minutesOfSlot, last * minutesOfSlot],
      rowMode: 'array',
    } as pg.QueryArrayConfig)
    const begun = await this.#pool.query<{ minute: number | null }>(
      'select min(minute) as minute from arrival_count where site_id = $1',
      [site],
    )
    const minute = begun.rows[0]?.minute ?? Number.POSITIVE_INFINITY
    return { slots: rows, since: Math.floor(minute / minutesOfSlot) }
  }

  /** Lets go of counts that nobody looks at any more: what is stored tells of those days too. @param instant epoch ms */
  async forgetBefore(instant: number): Promise<void> {
    await this.#pool.query('delete from arrival_count where minute < $1', [Math.floor(instant / 60_000)])
  }

  async #measured(
    signals: ReadonlyMap<number, SignalKind>,
    first: number,
    last: number,
  ): Promise<Map<number, number>> {
    const { rows } = await this.#pool.query<[number, Buffer]>({
      name: 'buckets-of-day',
      text: 'select signal_id, body from rollup_page where signal_id = any($1::int[]) and level = $2 and page between $3 and $4',
      values: [[...signals.keys()], slot, pageOf(slot, first * slot), pageOf(slot, last * slot)],
      rowMode: 'array',
    } as pg.QueryArrayConfig)
    const counts = new Map<number, number>()
    for (const [signal, body] of rows) {
      // Of a place, its latitude stands for both.
      const [axis = 'value'] = axesOf(signals.get(signal) ?? 'number')
      for (const [number, { bucket }] of readSlots(partOf(body, axis), slot))
        counts.set(number, (counts.get(number) ?? 0) + (bucket?.count ?? 0))
    }
    return counts
  }
}
