import type pg from 'pg'

/** What a server leaves in the database that tells a later one when it lived. */
export class Heartbeat {
  readonly #pool: Pick<pg.Pool, 'query'>
  readonly #server: string

  /** @param server its name, the same after a restart */
  constructor(pool: Pick<pg.Pool, 'query'>, server: string) {
    this.#pool = pool
    this.#server = server
  }

  /** Commits that this server lives. @param at by a clock that is trusted, epoch ms; null when there is none */
  async beat(at: number | null): Promise<void> {
    await this.#pool.query(
      `insert into heartbeat (server, at, beaten_at) values ($1, to_timestamp($2::float8 / 1000), clock_timestamp())
       on conflict (server) do update set at = coalesce(excluded.at, heartbeat.at), beaten_at = excluded.beaten_at`,
      [this.#server, at],
    )
  }

  /** When any server is known to have lived last, and what the clock of the database says; both epoch ms. */
  async read(): Promise<{ lastAt: number | null; databaseAt: number }> {
    const { rows } = await this.#pool.query<{ last_at: number | null; database_at: number }>(
      `select round(extract(epoch from max(at)) * 1000)::float8 as last_at,
         round(extract(epoch from clock_timestamp()) * 1000)::float8 as database_at from heartbeat`,
    )
    const [row] = rows
    if (!row) throw new Error('the database did not say what time it has')
    return { lastAt: row.last_at, databaseAt: row.database_at }
  }

  /** When a server on this database was alive last, by the clock of the database, epoch ms; null when there was none. */
  async anyAliveAt(): Promise<number | null> {
    const { rows } = await this.#pool.query<{ alive_at: number | null }>(
      'select round(extract(epoch from max(beaten_at)) * 1000)::float8 as alive_at from heartbeat',
    )
    return rows[0]?.alive_at ?? null
  }
}
