import type { Quality, Reading, TracePoint } from '@jaunty-sparrow/core'
import type pg from 'pg'

/** Reads readings, and removes them; they are written by the intake. */
export class ReadingStore {
  readonly #pool: pg.Pool

  constructor(pool: pg.Pool) {
    this.#pool = pool
  }

  /** The newest reading of every signal that has one. */
  async latest(): Promise<Reading[]> {
    const { rows } = await this.#pool.query<{
      signal: number
      at: number
      received_at: number
      value: number
      quality: Quality
    }>(
      `select signal.id as signal, newest.* from signal, lateral (
         select extract(epoch from at)::float8 * 1000 as at, extract(epoch from received_at)::float8 * 1000 as received_at,
           value, quality
         from reading where signal_id = signal.id order by reading.at desc limit 1) newest`,
    )
    return rows.map(({ signal, at, received_at, value, quality }) => ({
      signal,
      at: Math.round(at),
      receivedAt: Math.round(received_at),
      value,
      quality,
    }))
  }

  /** What signals have stored at certain instants (epoch ms). */
  async at(signals: readonly number[], instants: readonly number[]): Promise<Reading[]> {
    const { rows } = await this.#pool.query<[number, number, number, number, Quality]>({
      text: `select signal_id, extract(epoch from at)::float8 * 1000, extract(epoch from received_at)::float8 * 1000, value, quality
        from reading where signal_id = any($1::int[]) and at = any($2::timestamptz[])`,
      values: [signals, instants.map((at) => new Date(at))],
      rowMode: 'array',
    } as pg.QueryArrayConfig)
    return rows.map(([signal, at, receivedAt, value, quality]) => ({
      signal,
      at: Math.round(at),
      receivedAt: Math.round(receivedAt),
      value,
      quality,
    }))
  }

  /** The readings of signals from one instant up to but not at another (epoch ms), oldest first, by signal. */
  async between(signals: readonly number[], from: number, to: number): Promise<Map<number, TracePoint[]>> {
    const { rows } = await this.#pool.query<[number, number, number]>({
      text: `select signal_id, extract(epoch from at)::float8 * 1000, value from reading
        where signal_id = any($1::int[]) and at >= to_timestamp($2::float8 / 1000) and at < to_timestamp($3::float8 / 1000)
        order by signal_id, at`,
      values: [signals, from, to],
      rowMode: 'array',
    } as pg.QueryArrayConfig)
    const traces = new Map<number, TracePoint[]>(signals.map((signal) => [signal, []]))
    for (const [signal, at, value] of rows) traces.get(signal)?.push([Math.round(at), value])
    return traces
  }

  /** How many readings signals hold, and when the first was measured. */
  async extent(signals: readonly number[]): Promise<{ readings: number; firstAt: number | null }> {
    const { rows } = await this.#pool.query<{ readings: string; first_at: Date | null }>(
      'select count(*) as readings, min(at) as first_at from reading where signal_id = any($1::int[])',
      [signals],
    )
    const [row] = rows
    return { readings: Number(row?.readings ?? 0), firstAt: row?.first_at?.getTime() ?? null }
  }

  async delete(signals: readonly number[]): Promise<void> {
    const patient: pg.QueryConfig & { query_timeout: number } = {
      text: 'delete from reading where signal_id = any($1::int[])',
      values: [signals],
      query_timeout: 600_000,
    }
    await this.#pool.query(patient)
  }
}
