import type pg from 'pg'

/** A stretch of time that one partition holds; it begins at `from` and ends before `to`, both epoch ms; `from` may be minus infinity. */
interface Period {
  readonly from: number
  readonly to: number
  /** How the period stands in the partition's name, such as `2026_11`. */
  readonly label: string
}

/** How a table is cut: the period an instant falls into, some periods ahead of it. */
export type Cut = (at: number, ahead?: number) => Period

const labelOf = (from: number, length: number): string =>
  new Date(from).toISOString().slice(0, length).replaceAll('-', '_')

/** Before this there is one partition for all: what a person brings from long ago is little. */
const firstMonth = Date.UTC(2001, 0, 1)

/** Months in UTC. */
export const byMonth: Cut = (at, ahead = 0) => {
  if (at < firstMonth) return { from: Number.NEGATIVE_INFINITY, to: firstMonth, label: 'before_2001' }
  const date = new Date(at)
  const first = (offset: number) => Date.UTC(date.getUTCFullYear(), date.getUTCMonth() + offset, 1)
  return { from: first(ahead), to: first(ahead + 1), label: labelOf(first(ahead), 7) }
}

const dayLength = 86_400_000

/** Days in UTC. */
export const byDay: Cut = (at, ahead = 0) => {
  const from = (Math.floor(at / dayLength) + ahead) * dayLength
  return { from, to: from + dayLength, label: labelOf(from, 10) }
}

/** Partitions that exist ahead of the present one, so that nothing ever waits for a table. */
const periodsAhead = 2

/** Makes the partitions of a table, remembers those it has made, and drops those that have had their time. */
export class Partitions {
  readonly #pool: pg.Pool
  readonly #table: string
  readonly #cut: Cut
  #known: readonly Period[] = []

  constructor(pool: pg.Pool, table: 'reading' | 'text_reading' | 'position_reading' | 'message', cut: Cut) {
    this.#pool = pool
    this.#table = table
    this.#cut = cut
  }

  /** Looks which partitions are there, and makes the present one and those ahead of it. */
  async prepare(now: number): Promise<void> {
    this.#known = (await this.#names()).map((name) => this.#periodOf(name))
    for (let ahead = 0; ahead <= periodsAhead; ahead++) await this.#make(this.#cut(now, ahead))
  }

  /** Makes whatever partitions these items need; costs next to nothing when they are there. */
  async ensure<T>(items: readonly T[], atOf: (item: T) => number): Promise<void> {
    for (const period of this.#missing(items, atOf)) await this.#make(period)
  }

  /** How many partitions these items would need that are not there yet. */
  missing<T>(items: readonly T[], atOf: (item: T) => number): number {
    return new Set(Array.from(this.#missing(items, atOf), ({ label }) => label)).size
  }

  *#missing<T>(items: readonly T[], atOf: (item: T) => number): Generator<Period> {
    let period: Period | undefined
    for (const item of items) {
      const at = atOf(item)
      if (period && at >= period.from && at < period.to) continue
      period = this.#known.find(({ from, to }) => at >= from && at < to)
      if (period) continue
      period = this.#cut(at)
      yield period
    }
  }

  /** Drops the partitions that end before an instant. @returns how many there were */
  async dropBefore(instant: number): Promise<number> {
    const outlived = (await this.#names()).filter((name) => this.#periodOf(name).to <= instant)
    for (const name of outlived) await this.#pool.query(`drop table ${name}`)
    this.#known = this.#known.filter(({ to }) => to > instant)
    return outlived.length
  }

  async #names(): Promise<string[]> {
    const { rows } = await this.#pool.query<{ name: string }>(
      'select inhrelid::regclass::text as name from pg_inherits where inhparent = $1::regclass',
      [this.#table],
    )
    return rows.map(({ name }) => name)
  }

  #periodOf(name: string): Period {
    const label = name.slice(this.#table.length + 1)
    const begins = Date.parse(label.replaceAll('_', '-'))
    return this.#cut(Number.isNaN(begins) ? Number.NEGATIVE_INFINITY : begins)
  }

  async #make(period: Period): Promise<void> {
    const name = `${this.#table}_${period.label}`
    const [from, to] = [period.from, period.to].map((instant) =>
      instant === Number.NEGATIVE_INFINITY ? 'minvalue' : `'${new Date(instant).toISOString()}'`,
    )
    const client = await this.#pool.connect()
    try {
      // Attached after it is made: that waits for no reader, where `create … partition of` locks them all out.
      await client.query('begin')
      await client.query(`select pg_advisory_xact_lock(hashtext('partitions'))`)
      const there = await client.query('select to_regclass($1) as name', [name])
      if (there.rows[0].name === null) {
        await client.query(
          `create table ${name} (like ${this.#table} including defaults including constraints including compression)`,
        )
        await client.query(
          `alter table ${this.#table} attach partition ${name} for values from (${from}) to (${to})`,
        )
      }
      await client.query('commit')
      this.#known = [period, ...this.#known.filter(({ label }) => label !== period.label)]
    } catch (error) {
      await client.query('rollback').catch(() => undefined)
      throw error
    } finally {
      client.release()
    }
  }
}
