import type pg from 'pg'
import type { Logger } from 'pino'
import type { Database } from '../store/database.ts'
import { inTransaction } from '../store/inTransaction.ts'
import { largeChange } from '../store/schema.ts'

/**
 * Carries out one piece of a large change, in a transaction that takes well below a second.
 * @returns how far it has come now; null when it is done
 */
export type Piece<W, P> = (client: pg.ClientBase, what: W, progress: P | undefined) => Promise<P | null>

interface Job {
  readonly id: number
  readonly what: { readonly kind: string }
  readonly progress: object
}

/**
 * Changes of many readings, carried out piece by piece so that nobody waits for them. Each piece leaves its marks and says how
 * far it has come in its own transaction: what was interrupted goes on where it was, at whichever server.
 */
export class LargeChanges {
  readonly #database: Database
  readonly #log: Logger
  readonly #pieces = new Map<string, Piece<never, never>>()

  constructor(database: Database, log: Logger) {
    this.#database = database
    this.#log = log
  }

  /** Says how changes of one kind are carried out. */
  carryOut<W extends { readonly kind: string }, P extends object>(kind: W['kind'], piece: Piece<W, P>): void {
    this.#pieces.set(kind, piece as unknown as Piece<never, never>)
  }

  /** Takes a change down in a transaction: from its commit on it will be carried out. @returns its number */
  async takeDown<W extends { readonly kind: string }>(
    tx: Pick<Database, 'insert'>,
    what: W,
  ): Promise<number> {
    const [made] = await tx.insert(largeChange).values({ what }).returning({ id: largeChange.id })
    if (!made) throw new Error('the large change was not returned by the insert')
    return made.id
  }

  /** Carries a change out to its end. @throws what a piece threw; the change then waits to be taken up again */
  async run(id: number): Promise<void> {
    while (await this.#next(id));
  }

  /** Takes up what was interrupted. */
  async resume(): Promise<void> {
    const { rows } = await this.#database.$client.query<{ id: number }>(
      'select id from large_change where finished_at is null order by id',
    )
    for (const { id } of rows) {
      this.#log.info({ id }, 'a change that was interrupted goes on')
      await this.run(id)
    }
  }

  /** @returns whether there is more to do */
  #next(id: number): Promise<boolean> {
    return inTransaction(this.#database.$client, async (client) => {
      const { rows } = await client.query<Job>(
        'select id, what, progress from large_change where id = $1 and finished_at is null for update',
        [id],
      )
      const [job] = rows
      if (!job) return false
      const piece = this.#pieces.get(job.what.kind)
      if (!piece) throw new Error(`nobody here carries out a "${job.what.kind}"`)
      const before = Object.keys(job.progress).length === 0 ? undefined : job.progress
      const progress = await piece(client, job.what as never, before as never)
      if (progress === null)
        await client.query('update large_change set finished_at = now() where id = $1', [id])
      else
        await client.query('update large_change set progress = $2 where id = $1', [
          id,
          JSON.stringify(progress),
        ])
      return progress !== null
    })
  }

  async dropBefore(instant: number): Promise<void> {
    await this.#database.$client.query(
      'delete from large_change where finished_at < to_timestamp($1::float8 / 1000)',
      [instant],
    )
  }
}
