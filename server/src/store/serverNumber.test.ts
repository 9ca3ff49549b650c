import pg from 'pg'
import { pino } from 'pino'
import { emptyDatabase } from '../testing/serverUnderTest.ts'
import { isStoreAway } from './databaseError.ts'
import { mostServers, ServerNumber } from './serverNumber.ts'

const log = pino({ level: 'silent' })

it('is another one for each server on a database, and free again when it is released', async () => {
  const url = await emptyDatabase()
  const taken: ServerNumber[] = []
  for (let n = 0; n < mostServers; n++) taken.push(await ServerNumber.take(url, log))
  expect(taken.map(({ value }) => value)).toEqual(Array.from({ length: mostServers }, (_, n) => n))
  await expect(ServerNumber.take(url, log)).rejects.toThrow('8 servers work on this database already')
  await taken[3]?.release()
  const again = await ServerNumber.take(url, log)
  expect(again.value).toBe(3)
  for (const number of [...taken.filter(({ value }) => value !== 3), again]) await number.release()
})

it('is held again after its connection was cut', async () => {
  const url = await emptyDatabase()
  const number = await ServerNumber.take(url, log)
  const { value } = number
  const client = new pg.Client(url)
  await client.connect()
  const holders = async () => {
    const { rows } = await client.query(
      `select pid from pg_locks where locktype = 'advisory' and objid = $1 and classid = 7600002
         and database = (select oid from pg_database where datname = current_database())`,
      [value],
    )
    return rows.map(({ pid }) => pid as number)
  }
  const [before] = await holders()
  await client.query('select pg_terminate_backend($1)', [before])
  let now = await holders()
  for (let look = 0; (now.length === 0 || now[0] === before) && look < 200; look++) {
    await new Promise((soon) => setTimeout(soon, 50))
    now = await holders()
  }
  expect(now).toHaveLength(1)
  expect(now[0]).not.toBe(before)
  await number.release()
  await client.end()
})

it('is no more while it is lost, and another one where somebody else took it meanwhile', async () => {
  const url = await emptyDatabase()
  const number = await ServerNumber.take(url, log)
  const client = new pg.Client(url)
  await client.connect()
  // Whoever waits for the lock has it the moment the connection that held it is cut.
  const taken = client.query('select pg_advisory_lock(7600002, 0)')
  const other = new pg.Client(url)
  await other.connect()
  await other.query(
    `select pg_terminate_backend(pid) from pg_locks
     where locktype = 'advisory' and classid = 7600002 and objid = 0 and granted
       and database = (select oid from pg_database where datname = current_database())`,
  )
  await taken
  await number.held()
  expect(number.value).toBe(1)
  await number.release()
  expect(() => number.value).not.toThrow()
  await client.end()
  await other.end()
})

it('throws what is taken for a database that is away, while it has none', async () => {
  const url = await emptyDatabase()
  const number = await ServerNumber.take(url, log)
  const admin = new pg.Client(url.replace(/\/[^/]+$/, '/postgres'))
  await admin.connect()
  const name = new URL(url).pathname.slice(1)
  await admin.query(`alter database ${name} allow_connections false`)
  await admin.query('select pg_terminate_backend(pid) from pg_stat_activity where datname = $1', [name])
  let thrown: unknown
  while (!thrown) {
    await new Promise((turn) => setImmediate(turn))
    try {
      number.value
    } catch (error) {
      thrown = error
    }
  }
  expect(isStoreAway(thrown)).toBe(true)
  await expect(number.held()).rejects.toThrow(/no number/)
  await number.release()
  await admin.end()
})
