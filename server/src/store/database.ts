import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres'
import { migrate } from 'drizzle-orm/node-postgres/migrator'
import pg from 'pg'
import type { Logger } from 'pino'
import { ConfigError } from '../config.ts'
import * as schema from './schema.ts'

export type Database = NodePgDatabase<typeof schema> & { $client: pg.Pool }

/** Any number will do, as long as every server asks for the same one. */
const migrationLock = 7_600_001

/** Opens a pool that outlives restarts of PostgreSQL: broken connections are dropped and made anew on demand. */
export function openDatabase(url: string, log: Logger): Database {
  const pool = new pg.Pool({
    connectionString: url,
    max: 10,
    connectionTimeoutMillis: 10_000,
    query_timeout: 30_000,
    application_name: 'jaunty-sparrow',
  })
  pool.on('error', (error) => log.warn({ err: error }, 'a database connection broke'))
  // One that is at work tells it by the query that then fails; and it may break just as it is handed out, when nobody else listens.
  pool.on('connect', (client) => client.on('error', () => undefined))
  return drizzle(pool, { schema })
}

const migrationsFolder = fileURLToPath(new URL('../../migrations', import.meta.url))

/** What PostgreSQL calls the oldest version that will do: 15.0. */
const oldestServer = 150_000

/**
 * Brings the database to the current schema; servers that start together take turns.
 * @throws ConfigError when it cannot be used, in words
 */
export async function migrateDatabase(url: string): Promise<void> {
  const client = new pg.Client({ connectionString: url })
  // What breaks meanwhile is thrown by the query that it breaks.
  client.on('error', () => undefined)
  await client.connect()
  try {
    const { rows } = await client.query<{ server_version_num: string }>('show server_version_num')
    refuseOldServer(Number(rows[0]?.server_version_num))
    await client.query('select pg_advisory_lock($1)', [migrationLock])
    await refuseNewerDatabase(client)
    await migrate(drizzle(client), { migrationsFolder })
  } finally {
    await client.end()
  }
}

/** @param version as `server_version_num` tells it */
export function refuseOldServer(version: number): void {
  if (version >= oldestServer) return
  throw new ConfigError(
    `PostgreSQL ${Math.floor(version / 10_000)} is too old; DATABASE_URL must lead to PostgreSQL 15 or later.`,
  )
}

/** A program that knows less than the one that wrote the database would do damage. */
async function refuseNewerDatabase(client: pg.Client): Promise<void> {
  const there = await client.query<{ name: string | null }>(
    `select to_regclass('drizzle.__drizzle_migrations') as name`,
  )
  if (!there.rows[0]?.name) return
  const { rows } = await client.query<{ newest: string | null }>(
    'select max(created_at) as newest from drizzle.__drizzle_migrations',
  )
  const journal: { entries: { when: number }[] } = JSON.parse(
    readFileSync(join(migrationsFolder, 'meta/_journal.json'), 'utf8'),
  )
  if (Number(rows[0]?.newest ?? 0) > (journal.entries.at(-1)?.when ?? 0)) {
    throw new ConfigError(
      'The database was written by a newer version of this program. Update the program, or restore a backup from before.',
    )
  }
}
