import { statfs } from 'node:fs/promises'
import type { Condition } from '@jaunty-sparrow/contract'
import type pg from 'pg'

interface StorageParts {
  readonly pool: pg.Pool
  /** Where the database keeps its data, where that is on this machine. */
  readonly dataFolder: string | undefined
  readonly messageDays: number
}

/** What is kept, and how much room there is. */
export class Storage {
  readonly #parts: StorageParts

  constructor(parts: StorageParts) {
    this.#parts = parts
  }

  async told(): Promise<Condition['storage']> {
    const { pool, dataFolder, messageDays } = this.#parts
    const { rows } = await pool.query<{ bytes: string }>(
      'select pg_database_size(current_database()) as bytes',
    )
    const disk = dataFolder === undefined ? undefined : await statfs(dataFolder)
    return {
      databaseBytes: Number(rows[0]?.bytes),
      freeBytes: disk ? disk.bavail * disk.bsize : null,
      messageDays,
    }
  }
}
