import type { Rereading } from '@jaunty-sparrow/contract'
import type { RereadChange } from '@jaunty-sparrow/core/rereading'
import { sameValue } from '@jaunty-sparrow/core/signal'
import { and, eq, isNull, sql } from 'drizzle-orm'
import type pg from 'pg'
import type { ReadingStore } from '../readings/readingStore.ts'
import type { Database } from '../store/database.ts'
import { rereading } from '../store/schema.ts'

const columns = `id, messages, added, changed, removed,
  round(extract(epoch from created_at) * 1000)::float8 as "createdAt",
  round(extract(epoch from undone_at) * 1000)::float8 as "undoneAt"`

/** What one piece of it did. */
export type Counts = Pick<Rereading, 'messages' | 'added' | 'changed' | 'removed'>

/** Rows that are put back at a time. */
const rowsPerPiece = 10_000

interface ChangeRow extends Omit<RereadChange, 'signal'> {
  readonly signal: number
}

/** Keeps what reading again did, so that it can be undone. */
export class RereadingStore {
  readonly #pool: pg.Pool

  constructor(pool: pg.Pool) {
    this.#pool = pool
  }

  async begin(tx: Pick<Database, 'insert'>, deviceId: number): Promise<number> {
    const [made] = await tx
      .insert(rereading)
      .values({ deviceId, messages: 0, added: 0, changed: 0, removed: 0 })
      .returning({ id: rereading.id })
    if (!made) throw new Error('the rereading was not returned by the insert')
    return made.id
  }

  /** Remembers, in the transaction of a piece, what that piece changes. */
  async remember(
    client: pg.ClientBase,
    id: number,
    changes: readonly RereadChange[],
    { messages, added, changed, removed }: Counts,
  ): Promise<void> {
    if (changes.length > 0) {
      await client.query(
        `insert into rereading_change (rereading_id, signal_id, at, received_at, before, after)
         select $1, signal_id, to_timestamp(at / 1000), to_timestamp(received_at / 1000), before, after
         from unnest($2::int[], $3::float8[], $4::float8[], $5::jsonb[], $6::jsonb[])
           as given (signal_id, at, received_at, before, after) on conflict do nothing`,
        [
          id,
          changes.map(({ signal }) => signal),
          changes.map(({ at }) => at),
          changes.map(({ receivedAt }) => receivedAt),
          changes.map(({ before }) => before && JSON.stringify(before)),
          changes.map(({ after }) => after && JSON.stringify(after)),
        ],
      )
    }
    await client.query(
      `update rereading set messages = messages + $2, added = added + $3, changed = changed + $4, removed = removed + $5
       where id = $1`,
      [id, messages, added, changed, removed],
    )
  }

  async find(id: number): Promise<Rereading> {
    const { rows } = await this.#pool.query<Rereading>(`select ${columns} from rereading where id = $1`, [id])
    if (!rows[0]) throw new Error('the rereading is gone')
    return rows[0]
  }

  async list(device: number): Promise<Rereading[]> {
    const { rows } = await this.#pool.query<Rereading>(
      `select ${columns} from rereading where device_id = $1 order by id desc limit 20`,
      [device],
    )
    return rows
  }

  /** Marks it as undone. @returns false when there is no such rereading, or it was undone already */
  async markUndone(tx: Pick<Database, 'update'>, id: number): Promise<boolean> {
    const undone = await tx
      .update(rereading)
      .set({ undoneAt: sql`now()` })
      .where(and(eq(rereading.id, id), isNull(rereading.undoneAt)))
      .returning({ id: rereading.id })
    return undone.length === 1
  }

  /**
   * Takes the next changes that are to be put back; they are forgotten in the same transaction. Only what is as they left it
   * counts: what came since knows better.
   * @returns undefined when there are none left
   */
  async takeBack(
    client: pg.ClientBase,
    id: number,
    readings: ReadingStore,
  ): Promise<RereadChange[] | undefined> {
    const { rows } = await client.query<ChangeRow>(
      `delete from rereading_change where rereading_id = $1 and (signal_id, at) in (
         select signal_id, at from rereading_change where rereading_id = $1 limit ${rowsPerPiece})
       returning signal_id as signal, round(extract(epoch from at) * 1000)::float8 as at,
         round(extract(epoch from received_at) * 1000)::float8 as "receivedAt", before, after`,
      [id],
    )
    if (rows.length === 0) return undefined
    const stored = await readings.at(
      [...new Set(rows.map(({ signal }) => signal))],
      [...new Set(rows.map(({ at }) => at))],
    )
    const there = new Map(stored.map((reading) => [`${reading.signal} ${reading.at}`, reading]))
    return rows.flatMap(({ before, after, ...where }) => {
      const now = there.get(`${where.signal} ${where.at}`)
      const isAsLeft = after
        ? now !== undefined && sameValue(now.value, after.value) && now.quality === after.quality
        : now === undefined
      return isAsLeft ? { ...where, before: after, after: before } : []
    })
  }

  async dropBefore(instant: number): Promise<void> {
    await this.#pool.query('delete from rereading where created_at < to_timestamp($1::float8 / 1000)', [
      instant,
    ])
  }
}
