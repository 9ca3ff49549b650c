import { setTimeout as rest } from 'node:timers/promises'
import type pg from 'pg'

/** Ends connections to the database of a pool one after the other, whichever they are. @returns how many, once it is over */
export async function killAtRandom(pool: pg.Pool, isOver: () => boolean): Promise<number> {
  let killed = 0
  while (!isOver()) {
    await pool
      .query(
        `select pg_terminate_backend(pid) from pg_stat_activity
         where datname = current_database() and pid <> pg_backend_pid() order by random() limit 1`,
      )
      .then(
        () => killed++,
        () => undefined,
      )
    await rest(15)
  }
  return killed
}
