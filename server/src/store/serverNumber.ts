import pg from 'pg'
import type { Logger } from 'pino'
import { restOr } from './restOr.ts'

/** Any number will do, as long as every server asks for the same ones. */
const lockSpace = 7_600_002

/** How many servers may work on one database. */
export const mostServers = 8

const retryAfter = 1000

/** Thrown while a server has no number: the connection that held it broke, and it has none again yet. */
class NumberLost extends Error {
  /** PostgreSQL's for a connection that does not exist, so that it is taken for what it is. */
  readonly code = '08003'
}

/**
 * A number no other server on this database has at the same time. It is held by a lock of the database, on a connection of
 * its own. When that connection was lost there is no number, until the same or, where another server took that, another one is
 * had.
 */
export class ServerNumber {
  #value: number
  readonly #url: string
  readonly #log: Logger
  #client: pg.Client
  readonly #releasing = new AbortController()
  #retrying: Promise<void> | undefined
  #isBroken = false
  #trying: Promise<boolean> | undefined

  private constructor(url: string, log: Logger, client: pg.Client, value: number) {
    this.#url = url
    this.#log = log
    this.#client = client
    this.#value = value
    this.#watch()
  }

  /** @throws when there are as many servers already as may be */
  static async take(url: string, log: Logger): Promise<ServerNumber> {
    const client = await connect(url)
    const value = await lockAny(client)
    if (value !== undefined) return new ServerNumber(url, log, client, value)
    await client.end()
    throw new Error(`${mostServers} servers work on this database already.`)
  }

  /** @throws while there is none */
  get value(): number {
    if (this.#isBroken) throw new NumberLost('this server has no number of its own just now')
    return this.#value
  }

  get isHeld(): boolean {
    return !this.#isBroken
  }

  /** Resolves when there is a number. @throws when none can be had just now */
  async held(): Promise<void> {
    if (!(await this.#tryNow())) throw new NumberLost('this server has no number of its own just now')
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
    while (!this.#isReleased && !(await this.#tryNow())) await restOr(this.#releasing.signal, retryAfter)
  }

  /** Whoever comes while it is tried waits for the same. @returns whether there is a number again */
  #tryNow(): Promise<boolean> {
    this.#trying ??= this.#try().finally(() => {
      this.#trying = undefined
    })
    return this.#trying
  }

  async #try(): Promise<boolean> {
    if (!this.#isBroken) return true
    const client = await connect(this.#url).catch(() => undefined)
    const value = client && (await lockAny(client, this.#value).catch(() => undefined))
    if (!client || value === undefined || this.#isReleased) {
      await client?.end().catch(() => undefined)
      return false
    }
    this.#client = client
    this.#value = value
    this.#isBroken = false
    this.#watch()
    return true
  }
}

/** @param first the number that is tried before the others */
async function lockAny(client: pg.Client, first = 0): Promise<number | undefined> {
  for (let ahead = 0; ahead < mostServers; ahead++) {
    const value = (first + ahead) % mostServers
    if (await lock(client, value)) return value
  }
  return undefined
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
