import type { Reading } from '@jaunty-sparrow/core'
import type pg from 'pg'

/** Months of `reading` that exist ahead of the present one, so that no reading ever waits for a table. */
const monthsAhead = 2

/** A month in UTC; it begins at `from` and ends before `to`, both epoch ms. */
interface Month {
  readonly table: string
  readonly from: number
  readonly to: number
}

/** The month that an instant in epoch ms falls into, `ahead` months on. */
export function monthOf(at: number, ahead = 0): Month {
  const date = new Date(at)
  const first = (offset: number) => Date.UTC(date.getUTCFullYear(), date.getUTCMonth() + offset, 1)
  const from = first(ahead)
  return {
    table: `reading_${new Date(from).toISOString().slice(0, 7).replace('-', '_')}`,
    from,
    to: first(ahead + 1),
  }
}

/** Makes the monthly partitions of `reading`, and remembers those it has made. */
export class Partitions {
  #known: readonly Month[] = []
  readonly #pool: pg.Pool

  constructor(pool: pg.Pool) {
    this.#pool = pool
  }

  /** Makes this month's partition and those ahead of it. */
  async prepare(now: number): Promise<void> {
    for (let ahead = 0; ahead <= monthsAhead; ahead++) await this.#make(monthOf(now, ahead))
  }

  /** Makes whatever partitions these readings need; costs next to nothing when they are there. */
  async ensure(readings: readonly Reading[]): Promise<void> {
    let month: Month | undefined
    for (const { at } of readings) {
      if (month && at >= month.from && at < month.to) continue
      month = this.#known.find(({ from, to }) => at >= from && at < to)
      if (!month) {
        month = monthOf(at)
        await this.#make(month)
      }
    }
  }

  async #make(month: Month): Promise<void> {
    const { table } = month
    const [from, to] = [month.from, month.to].map((instant) => new Date(instant).toISOString())
    const client = await this.#pool.connect()
    try {
      // Attached after it is made: that waits for no reader, where `create … partition of` locks them all out.
      await client.query('begin')
      await client.query(`select pg_advisory_xact_lock(hashtext('reading partition'))`)
      const there = await client.query('select to_regclass($1) as name', [table])
      if (there.rows[0].name === null) {
        await client.query(`create table ${table} (like reading including defaults including constraints)`)
        await client.query(
          `alter table reading attach partition ${table} for values from ('${from}') to ('${to}')`,
        )
      }
      await client.query('commit')
      this.#known = [month, ...this.#known.filter((known) => known.table !== table)]
    } catch (error) {
      await client.query('rollback').catch(() => undefined)
      throw error
    } finally {
      client.release()
    }
  }
}
