import { fileURLToPath } from 'node:url'
import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres'
import { migrate } from 'drizzle-orm/node-postgres/migrator'
import pg from 'pg'
import type { Logger } from 'pino'
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

/** Brings the database to the current schema; servers that start together take turns. */
export async function migrateDatabase(url: string): Promise<void> {
  const client = new pg.Client({ connectionString: url })
  // What breaks meanwhile is thrown by the query that it breaks.
  client.on('error', () => undefined)
  await client.connect()
  try {
    await client.query('select pg_advisory_lock($1)', [migrationLock])
    await migrate(drizzle(client), {
      migrationsFolder: fileURLToPath(new URL('../../migrations', import.meta.url)),
    })
  } finally {
    await client.end()
  }
}
