import type pg from 'pg'
import webPush from 'web-push'

/** By these a push service knows that pushes come from this server (RFC 8292); base64url. */
export interface VapidKeys {
  readonly publicKey: string
  readonly privateKey: string
}

/** Finds the keys, the same for all servers on the database; they are made when they are first needed. */
export function keysOf(pool: pg.Pool): () => Promise<VapidKeys> {
  let known: VapidKeys | undefined
  return async () => {
    if (known) return known
    await pool.query(`insert into server_secret (name, value) values ('vapid', $1) on conflict do nothing`, [
      webPush.generateVAPIDKeys(),
    ])
    const { rows } = await pool.query<{ value: VapidKeys }>(
      `select value from server_secret where name = 'vapid'`,
    )
    if (!rows[0]) throw new Error('the keys of pushes were not returned')
    known = rows[0].value
    return known
  }
}
