import type pg from 'pg'

/** Does some work in one transaction; when it throws, nothing of it holds. */
export async function inTransaction<T>(
  pool: pg.Pool,
  work: (client: pg.PoolClient) => Promise<T>,
): Promise<T> {
  const client = await pool.connect()
  // That the line broke is told by the query that then fails; without a listener it would end the process.
  const broken = () => undefined
  client.on('error', broken)
  try {
    await client.query('begin')
    const result = await work(client)
    await client.query('commit')
    return result
  } catch (error) {
    await client.query('rollback').catch(() => undefined)
    throw error
  } finally {
    client.off('error', broken)
    client.release()
  }
}
