import type { Replay } from '@jaunty-sparrow/contract'
import type { ReplayChange } from '@jaunty-sparrow/core'
import type pg from 'pg'
import type { Partitions } from './partitions.ts'

type Counts = Pick<Replay, 'messages' | 'added' | 'changed' | 'removed'>

const columns = `id, messages, added, changed, removed,
  round(extract(epoch from created_at) * 1000)::float8 as "createdAt",
  round(extract(epoch from undone_at) * 1000)::float8 as "undoneAt"`

const given = `unnest($2::int[], $3::float8[], $4::float8[], $5::float8[], $6::smallint[], $7::float8[], $8::smallint[])
  as given (signal_id, at, received_at, value_before, quality_before, value_after, quality_after)`

const write = `with recorded as (
    insert into replay_change (replay_id, signal_id, at, received_at, value_before, quality_before, value_after, quality_after)
    select $1, signal_id, to_timestamp(at / 1000), to_timestamp(received_at / 1000), value_before, quality_before, value_after, quality_after
    from ${given} on conflict do nothing
  ), gone as (
    delete from reading using ${given}
    where value_after is null and reading.signal_id = given.signal_id and reading.at = to_timestamp(given.at / 1000)
  )
  insert into reading (signal_id, at, received_at, value, quality)
  select signal_id, to_timestamp(at / 1000), to_timestamp(received_at / 1000), value_after, quality_after
  from ${given} where value_after is not null
  on conflict (signal_id, at) do update set value = excluded.value, quality = excluded.quality`

// Only what is as the replay left it is put back: what came since knows better.
const undo = `with back as (
    select change.*, reading.signal_id is not null as there from replay_change change
    left join reading on reading.signal_id = change.signal_id and reading.at = change.at
    where replay_id = $1 and reading.value is not distinct from value_after
      and reading.quality is not distinct from quality_after
  ), gone as (
    delete from reading using back
    where value_before is null and reading.signal_id = back.signal_id and reading.at = back.at
  )
  insert into reading (signal_id, at, received_at, value, quality)
  select signal_id, at, received_at, value_before, quality_before from back where value_before is not null
  on conflict (signal_id, at) do update set value = excluded.value, quality = excluded.quality`

/** Keeps what replays did, so that they can be undone. */
export class ReplayStore {
  readonly #pool: pg.Pool
  readonly #partitions: Partitions

  constructor(pool: pg.Pool, readingPartitions: Partitions) {
    this.#pool = pool
    this.#partitions = readingPartitions
  }

  /**
   * Carries out a replay in one transaction.
   * @param run hands over the changes, some at a time, and tells what it did
   */
  record(
    device: number,
    run: (write: (changes: readonly ReplayChange[]) => Promise<void>) => Promise<Counts>,
  ): Promise<Replay> {
    return this.#transaction(async (client) => {
      const { rows } = await client.query<{ id: number }>(
        'insert into replay (device_id, messages, added, changed, removed) values ($1, 0, 0, 0, 0) returning id',
        [device],
      )
      const id = rows[0]?.id
      const { messages, added, changed, removed } = await run(async (changes) => {
        if (changes.length === 0) return
        await this.#partitions.ensure(changes, ({ at }) => at)
        await client.query(write, [
          id,
          changes.map(({ signal }) => signal),
          changes.map(({ at }) => at),
          changes.map(({ receivedAt }) => receivedAt),
          changes.map(({ before }) => before?.value ?? null),
          changes.map(({ before }) => before?.quality ?? null),
          changes.map(({ after }) => after?.value ?? null),
          changes.map(({ after }) => after?.quality ?? null),
        ])
      })
      const { rows: done } = await client.query<Replay>(
        `update replay set messages = $2, added = $3, changed = $4, removed = $5 where id = $1 returning ${columns}`,
        [id, messages, added, changed, removed],
      )
      if (!done[0]) throw new Error('the replay was not returned by the update')
      return done[0]
    })
  }

  async list(device: number): Promise<Replay[]> {
    const { rows } = await this.#pool.query<Replay>(
      `select ${columns} from replay where device_id = $1 order by id desc limit 20`,
      [device],
    )
    return rows
  }

  /** @returns false when there is no such replay, or it was undone already */
  undo(id: number): Promise<boolean> {
    return this.#transaction(async (client) => {
      const { rowCount } = await client.query(
        'update replay set undone_at = now() where id = $1 and undone_at is null',
        [id],
      )
      if (rowCount === 0) return false
      await client.query(undo, [id])
      await client.query('delete from replay_change where replay_id = $1', [id])
      return true
    })
  }

  async dropBefore(instant: number): Promise<void> {
    await this.#pool.query('delete from replay where created_at < to_timestamp($1::float8 / 1000)', [instant])
  }

  async #transaction<T>(work: (client: pg.PoolClient) => Promise<T>): Promise<T> {
    const client = await this.#pool.connect()
    try {
      await client.query('begin')
      const result = await work(client)
      await client.query('commit')
      return result
    } catch (error) {
      await client.query('rollback').catch(() => undefined)
      throw error
    } finally {
      client.release()
    }
  }
}
