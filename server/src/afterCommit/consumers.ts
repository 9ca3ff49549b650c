import type pg from 'pg'
import type { Logger } from 'pino'
import { inTransaction } from '../store/inTransaction.ts'
import { always, type Snapshots } from './snapshots.ts'

/** Something that follows from what was committed. */
export interface Consumer {
  /** It is known by this in the database, so it stays. */
  readonly name: string
  /**
   * Takes in what was committed between two snapshots. What it writes through the client holds together with how far it has come,
   * or neither does: done again it finds everything as it was.
   */
  readonly consume: (client: pg.ClientBase, between: Snapshots) => Promise<void>
}

/** So long, s, a server may do nothing in the midst of following. */
const patience = 10

interface ConsumersParts {
  readonly pool: pg.Pool
  readonly log: Logger
  readonly consumers: readonly Consumer[]
}

/**
 * Lets consumers follow what is committed, by whichever server: no batch is skipped and none is consumed twice, whatever is
 * killed when. Of several servers one at a time does the work of a consumer; its row is the lock.
 */
export class Consumers {
  readonly #parts: ConsumersParts

  private constructor(parts: ConsumersParts) {
    this.#parts = parts
  }

  /** Begins where each consumer was; one that is new begins now. */
  static async open(parts: ConsumersParts): Promise<Consumers> {
    const opened = new Consumers(parts)
    await opened.#begin()
    return opened
  }

  /** Lets each consumer catch up with what was committed. */
  async run(): Promise<void> {
    for (const consumer of this.#parts.consumers) await this.#catchUp(consumer)
  }

  /** Lets one consumer catch up, at once. */
  async runOne(name: string): Promise<void> {
    const consumer = this.#parts.consumers.find((each) => each.name === name)
    if (consumer) await this.#catchUp(consumer)
  }

  /** Lets go of what every consumer has consumed. */
  async trim(): Promise<void> {
    await this.#parts.pool.query(
      'delete from after_commit where xid < (select min(pg_snapshot_xmin(seen)::text::numeric)::text::xid8 from consumer)',
    )
  }

  #catchUp({ name, consume }: Consumer): Promise<void> {
    return inTransaction(this.#parts.pool, async (client) => {
      // Whoever is stopped in the midst of it does not stop the others: the database lets go for it, and it finds that out.
      await client.query(`set local idle_in_transaction_session_timeout = '${patience}s'`)
      const { rows } = await client.query<{ seen: string }>(
        'select seen::text from consumer where name = $1 for update skip locked',
        [name],
      )
      const seen = rows[0]?.seen
      // Another server is at it.
      if (seen === undefined) return
      const now = await currentSnapshot(client)
      if (now === seen) return
      await consume(client, { seen, now })
      await client.query('update consumer set seen = $2::pg_snapshot where name = $1', [name, now])
    })
  }

  async #begin(): Promise<void> {
    const { pool, consumers, log } = this.#parts
    const names = consumers.map(({ name }) => name)
    await inTransaction(pool, async (client) => {
      await client.query('lock table consumer in share row exclusive mode')
      await client.query(
        `insert into consumer (name, seen, cluster)
         select name, pg_current_snapshot(), system_identifier from unnest($1::text[]) as name, pg_control_system()
         on conflict do nothing`,
        [names],
      )
      const unknown = await client.query<{ name: string }>(
        'delete from consumer where name <> all($1::text[]) returning name',
        [names],
      )
      for (const { name } of unknown.rows)
        log.warn({ consumer: name }, 'nobody follows what was committed by this name any more')
      const { rowCount } = await client.query(
        'select 1 from consumer, pg_control_system() where cluster <> system_identifier limit 1',
      )
      if (rowCount) await this.#beginAnew(client)
    })
  }

  /**
   * In another cluster transactions are counted from the start. What came along is told by the old numbers, which the log and the
   * cursors agree on: each consumer takes in what it had not, and the log is let go of.
   */
  async #beginAnew(client: pg.ClientBase): Promise<void> {
    this.#parts.log.info(
      'the database was restored into another cluster: what had not been followed of what was committed is followed now',
    )
    const now = await currentSnapshot(client)
    for (const { name, consume } of this.#parts.consumers) {
      const { rows } = await client.query<{ seen: string }>(
        'select seen::text from consumer, pg_control_system() where name = $1 and cluster <> system_identifier',
        [name],
      )
      // One that is new has begun in this cluster.
      if (rows[0]) await consume(client, { seen: rows[0].seen, now: always })
    }
    await client.query(
      'delete from after_commit where pg_visible_in_snapshot(xid, $1::pg_snapshot) or xid >= pg_snapshot_xmax($1::pg_snapshot)',
      [now],
    )
    await client.query(
      'update consumer set seen = $1::pg_snapshot, cluster = (select system_identifier from pg_control_system())',
      [now],
    )
  }
}

async function currentSnapshot(client: pg.ClientBase): Promise<string> {
  const { rows } = await client.query<{ now: string }>('select pg_current_snapshot()::text as now')
  if (!rows[0]) throw new Error('the database told no snapshot')
  return rows[0].now
}
