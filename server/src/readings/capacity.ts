import type pg from 'pg'

/** A reading that fills its page rarely takes less: for a database that holds too few of them to tell. */
const bytesWhenUnknown = 100
const enoughToTell = 100_000

const batch = 1000
const probeLength = 1000

/** What the database takes for a reading, and how many it can take. */
export class Capacity {
  readonly #pool: pg.Pool

  constructor(pool: pg.Pool) {
    this.#pool = pool
  }

  /** Bytes on the disk for one reading with its index, by what is stored already. */
  async bytesPerReading(): Promise<number> {
    const { rows } = await this.#pool.query<{ bytes: string; readings: number }>(
      `select sum(pg_total_relation_size(inhrelid)) as bytes, sum(greatest(reltuples, 0)) as readings
       from pg_inherits join pg_class on pg_class.oid = inhrelid where inhparent = 'reading'::regclass`,
    )
    const { bytes = '0', readings = 0 } = rows[0] ?? {}
    return readings < enoughToTell ? bytesWhenUnknown : Number(bytes) / readings
  }

  /**
   * Stores made-up readings for a second in a table of their own, as durably as real ones, and drops it again.
   * @param clock ms, only running forward
   * @returns readings a second
   */
  async measure(clock: () => number): Promise<number> {
    const client = await this.#pool.connect()
    const table = 'reading_probe'
    try {
      await client.query(`drop table if exists ${table}`)
      await client.query(`create table ${table} (like reading including all)`)
      const start = clock()
      let stored = 0
      while (clock() - start < probeLength) {
        await client.query(
          `insert into ${table} (signal_id, at, received_at, value, quality)
           select n, to_timestamp($1::int), now(), n, 0 from generate_series(1, ${batch}) n`,
          [stored],
        )
        stored += batch
      }
      return stored / ((clock() - start) / 1000)
    } finally {
      await client.query(`drop table if exists ${table}`)
      client.release()
    }
  }
}
