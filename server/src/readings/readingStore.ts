import type { Reading, SignalValue } from '@jaunty-sparrow/core/signal'
import orderBy from 'lodash-es/orderBy.js'
import uniqBy from 'lodash-es/uniqBy.js'
import type pg from 'pg'

type Row = [number, number, number, SignalValue, number | null, number]

/** Where readings are, and how a value stands there; positions go as JSON. */
const tables = [
  { table: 'reading', value: 'value', raw: 'raw' },
  { table: 'text_reading', value: 'value', raw: 'null::float8' },
  {
    table: 'position_reading',
    value: `jsonb_strip_nulls(jsonb_build_object('lat', lat, 'lon', lon, 'height', height))`,
    raw: 'null::float8',
  },
] as const

const columns = ({ value, raw }: (typeof tables)[number]): string =>
  `round(extract(epoch from at) * 1000)::float8, round(extract(epoch from received_at) * 1000)::float8, ${value} as said, ${raw} as sent, quality`

const toReading = ([signal, at, receivedAt, value, raw, quality]: Row): Reading =>
  raw === null ? { signal, at, receivedAt, value, quality } : { signal, at, receivedAt, value, raw, quality }

/** Out of no more readings than these a span is thinned. */
const mostThinned = 100_000

/** Reads readings; they are changed elsewhere. */
export class ReadingStore {
  readonly #pool: pg.Pool

  constructor(pool: pg.Pool) {
    this.#pool = pool
  }

  /**
   * The newest reading of every signal that has one, or of some of them.
   * @param before instants after this, epoch ms, count only where there are none before: a clock that was ahead stamped them
   */
  async latest(before: number, signals?: readonly number[]): Promise<Reading[]> {
    const found = await Promise.all(
      tables.map((each) =>
        this.#rows(
          `select signal.id, newest.* from signal, lateral (
             (select ${columns(each)} from ${each.table}
              where signal_id = signal.id and at <= to_timestamp($1::float8 / 1000) order by ${each.table}.at desc limit 1)
             union all
             (select ${columns(each)} from ${each.table} where signal_id = signal.id order by ${each.table}.at desc limit 1)
             limit 1) newest
           where $2::int[] is null or signal.id = any($2)`,
          [before, signals ?? null],
        ),
      ),
    )
    return found.flat()
  }

  /** The last reading of each signal at an instant (epoch ms), of those that had one. */
  async lastAt(signals: readonly number[], instant: number): Promise<Reading[]> {
    const found = await Promise.all(
      tables.map((each) =>
        this.#rows(
          `select asked.id, last.* from unnest($1::int[]) as asked (id), lateral (
             select ${columns(each)} from ${each.table}
             where signal_id = asked.id and at <= to_timestamp($2::float8 / 1000) order by ${each.table}.at desc limit 1) last`,
          [signals, instant],
        ),
      ),
    )
    // One whose kind was changed has readings of both kinds.
    return uniqBy(orderBy(found.flat(), 'at', 'desc'), 'signal')
  }

  /**
   * The last readings of each signal up to an instant, the oldest first.
   * @param from,to epoch ms
   * @param most so many of each signal
   * @param isThinned whether they stand for the whole span, every second or third of them; else they are the very last
   */
  async last(
    signals: readonly number[],
    { from, to }: { readonly from: number; readonly to: number },
    most: number,
    isThinned: boolean,
  ): Promise<Reading[]> {
    const found = await Promise.all(
      tables.map((each) =>
        this.#rows(
          `select asked.id, last.at_ms, last.received_ms, last.said, last.sent, last.quality
           from unnest($1::int[]) as asked (id), lateral (
             select newest.*, row_number() over (order by at_ms desc) - 1 as place, count(*) over () as held
             from (
               select ${columns(each)} from ${each.table}
               where signal_id = asked.id and at > to_timestamp($2::float8 / 1000) and at <= to_timestamp($3::float8 / 1000)
               order by ${each.table}.at desc limit $4::int
             ) newest (at_ms, received_ms, said, sent, quality)
           ) last
           where place % ceil(held / $5::float8)::int = 0 order by last.at_ms`,
          [signals, from, to, isThinned ? mostThinned : most, most],
        ),
      ),
    )
    return orderBy(found.flat(), 'at')
  }

  /** What signals have stored at certain instants (epoch ms). */
  async at(signals: readonly number[], instants: readonly number[]): Promise<Reading[]> {
    const dates = instants.map((at) => new Date(at))
    const found = await Promise.all(
      tables.map((each) =>
        this.#rows(
          `select signal_id, ${columns(each)} from ${each.table}
           where signal_id = any($1::int[]) and at = any($2::timestamptz[])`,
          [signals, dates],
        ),
      ),
    )
    return found.flat()
  }

  /** How many readings signals hold, and when the first was measured. */
  async extent(signals: readonly number[]): Promise<{ readings: number; firstAt: number | null }> {
    const each = tables.map(({ table }) => `select at from ${table} where signal_id = any($1::int[])`)
    const { rows } = await this.#pool.query<{ readings: string; first_at: Date | null }>(
      `select count(*) as readings, min(at) as first_at from (${each.join(' union all ')}) as held`,
      [signals],
    )
    const [row] = rows
    return { readings: Number(row?.readings ?? 0), firstAt: row?.first_at?.getTime() ?? null }
  }

  async #rows(text: string, values: unknown[]): Promise<Reading[]> {
    const { rows } = await this.#pool.query<Row>({ text, values, rowMode: 'array' } as pg.QueryArrayConfig)
    return rows.map(toReading)
  }
}
