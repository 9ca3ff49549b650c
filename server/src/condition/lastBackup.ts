import type pg from 'pg'

/** When the database was backed up last, epoch ms; null where it never was. */
export async function lastBackup(pool: Pick<pg.Pool, 'query'>): Promise<number | null> {
  const { rows } = await pool.query<{ at: number | null }>(
    'select round(extract(epoch from max(at)) * 1000)::float8 as at from backup_made',
  )
  return rows[0]?.at ?? null
}
