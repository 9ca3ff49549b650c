import pg from 'pg'
import type { Logger } from 'pino'
import { restOr } from './restOr.ts'

/** Any number will do, as long as every server asks for the same ones. */
const lockSpace = 7_600_002

/** How many servers may work on one database. */
export const mostServers = 8

const retryAfter = 1000

/**
 * A number no other server on this database has at the same time. It is held by a lock of the database, on a connection of
 * its own, and taken again when that connection was lost.
 */
export class ServerNumber {
  readonly value: number
  readonly #url: string
  readonly #log: Logger
  #client: pg.Client
  readonly #releasing = new AbortController()
  #retrying: Promise<void> | undefined
  #isBroken = false

  private constructor(url: string, log: Logger, client: pg.Client, value: number) {
    this.#url = url
    this.#log = log
    this.#client = client
    this.value = value
    this.#watch()
  }

  /** @throws when there are as many servers already as may be */
  static async take(url: string, log: Logger): Promise<ServerNumber> {
    const client = await connect(url)
    for (let value = 0; value < mostServers; value++)
      if (await lock(client, value)) return new ServerNumber(url, log, client, value)
    await client.end()
    throw new Error(`${mostServers} servers work on this database already.`)
  }

  async release(): Promise<void> {
    this.#releasing.abort()
    await this.#retrying
    if (!this.#isBroken) await this.#client.end()
  }

  get #isReleased(): boolean {
    return this.#releasing.signal.aborted
  }

  #watch(): void {
    const client = this.#client
    client.on('error', (error) => {
      // A connection that breaks says so more than once.
      if (this.#isReleased || this.#client !== client || this.#isBroken) return
      this.#isBroken = true
      this.#log.warn({ err: error }, 'the connection that holds the number of this server broke')
      this.#retrying = this.#takeAgain()
    })
  }

  async #takeAgain(): Promise<void> {
    while (!this.#isReleased) {
      await restOr(this.#releasing.signal, retryAfter)
      if (this.#isReleased) return
      const client = await connect(this.#url).catch(() => undefined)
      if (client && (await lock(client, this.value).catch(() => false))) {
        this.#client = client
        this.#isBroken = false
        this.#watch()
        return
      }
      await client?.end().catch(() => undefined)
    }
  }
}

async function connect(connectionString: string): Promise<pg.Client> {
  const client = new pg.Client({ connectionString, application_name: 'jaunty-sparrow number' })
  client.on('error', () => undefined)
  await client.connect()
  return client
}

async function lock(client: pg.Client, value: number): Promise<boolean> {
  const { rows } = await client.query<{ got: boolean }>('select pg_try_advisory_lock($1, $2) as got', [
    lockSpace,
    value,
  ])
  return rows[0]?.got ?? false
}
