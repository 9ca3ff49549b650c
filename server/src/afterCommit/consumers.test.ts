import { Quality, type Reading } from '@jaunty-sparrow/core/signal'
import type pg from 'pg'
import { pino } from 'pino'
import { keepHeard } from '../presence/keepHeard.ts'
import { LargeChanges } from '../readings/largeChanges.ts'
import { ReadingChanges } from '../readings/readingChanges.ts'
import { ReadingPartitions } from '../readings/readingPartitions.ts'
import { duePages } from '../rollups/duePages.ts'
import { type Database, migrateDatabase, openDatabase } from '../store/database.ts'
import { inTransaction } from '../store/inTransaction.ts'
import { countArrivals } from '../strip/countArrivals.ts'
import { killAtRandom } from '../testing/killAtRandom.ts'
import { emptyDatabase } from '../testing/serverUnderTest.ts'
import { type Consumer, Consumers } from './consumers.ts'
import { committedBetween } from './snapshots.ts'

const log = pino({ level: 'silent' })
const start = Date.UTC(2026, 9, 25)

/** Takes down each mark it hears of, so that one it hears twice stands there twice. */
const ledger: Consumer = {
  name: 'ledger',
  consume: async (client, { seen, now }) => {
    await client.query(`insert into ledger select id from after_commit mark where ${committedBetween(1)}`, [
      seen,
      now,
    ])
  },
}

/** One of several servers on the same database. */
interface TestServer {
  readonly database: Database
  readonly changes: ReadingChanges
  readonly consumers: Consumers
}

let url: string
let servers: TestServer[]
const pool = (): pg.Pool => {
  const [first] = servers
  if (!first) throw new Error('there is no server')
  return first.database.$client
}

async function open(consumers: readonly Consumer[]): Promise<TestServer> {
  const database = openDatabase(url, log)
  const { $client } = database
  return {
    database,
    changes: new ReadingChanges(database, new ReadingPartitions($client), new LargeChanges(database, log)),
    consumers: await Consumers.open({ pool: $client, log, consumers }),
  }
}

beforeAll(async () => {
  url = await emptyDatabase()
  await migrateDatabase(url)
  const all = [duePages, keepHeard, countArrivals, ledger]
  servers = [await open(all), await open(all), await open(all)]
  await pool().query('create table ledger (id bigint not null)')
  await pool().query(`insert into site (name, time_zone) values ('s', 'UTC')`)
  await pool().query('insert into kit default values')
  await pool().query(
    `insert into device (site_id, kit_id, name, address, secret_hash) values (1, 1, 'd', 'd', '')`,
  )
  await pool().query(
    `insert into signal_definition (kit_id, field, name, kind, state)
     select 1, '/' || n, n, 'number', 'accepted' from generate_series(1, 3) n`,
  )
  await pool().query(
    'insert into signal (device_id, definition_id) select 1, id from signal_definition order by id',
  )
})
afterAll(async () => {
  for (const { database } of servers) await database.$client.end()
})

const reading = (signal: number, n: number): Reading => ({
  signal,
  at: start + n * 1000,
  receivedAt: start + n * 1000,
  value: n,
  quality: Quality.good,
})

/** The marks that stand in the log, and those that were heard of, as often as they were. */
async function marksAndHeard(): Promise<{ marks: string[]; heard: string[] }> {
  const ids = async (table: string) => {
    const { rows } = await pool().query<{ id: string }>(`select id from ${table} order by id`)
    return rows.map(({ id }) => id)
  }
  return { marks: await ids('after_commit'), heard: await ids('ledger') }
}

it('hear of every commit once, whoever commits crosswise and whoever is killed when', async () => {
  let isOver = false
  const writing = servers.map(async ({ changes, database }, signal) => {
    for (let n = 0; n < 120; n++) {
      const write = () => changes.append([reading(signal + 1, n)], [])
      // Every third write waits while the others overtake it: its number is older than theirs.
      const slowly = () =>
        inTransaction(database.$client, async (client) => {
          await client.query('select pg_current_xact_id()')
          await servers[(signal + 1) % 3]?.consumers.run().catch(() => undefined)
          await client.query(
            `insert into after_commit (kind, signals, from_at, to_at, heard_signals, heard_at, heard)
             values (0, '{1}', array[to_timestamp($1)], array[to_timestamp($1)], '{1}', array[to_timestamp($1)], '{1}')`,
            [start / 1000],
          )
        })
      // Who was killed in the midst of it does not know whether it holds: that is not what is asked here.
      await (n % 3 === 0 ? slowly() : write()).catch(() => undefined)
    }
  })
  const following = servers.map(async ({ consumers }) => {
    while (!isOver) await consumers.run().catch(() => undefined)
  })
  const killing = killAtRandom(pool(), () => isOver)
  await Promise.all(writing)
  isOver = true
  await Promise.all([...following, killing])
  for (const { consumers } of servers) await consumers.run()
  const { marks, heard } = await marksAndHeard()
  expect(await killing).toBeGreaterThan(10)
  expect(marks.length).toBeGreaterThan(100)
  expect(heard).toEqual(marks)
  // What is counted is counted once too, whatever was killed between counting and taking down how far it came.
  const { rows } = await pool().query<{ counted: string; marked: string }>(
    `select (select sum(readings) from arrival_count) as counted,
       (select sum(n) from after_commit, unnest(heard) as n) as marked`,
  )
  expect(rows[0]?.counted).toBe(rows[0]?.marked)
}, 120_000)

it('go on elsewhere when a leader is stopped in the midst of it, and it does nothing when it continues', async () => {
  const [inside, isInside] = signalled()
  const [letGo, isLetGo] = signalled()
  const [continued, goOn] = signalled()
  const slow = await open([
    duePages,
    keepHeard,
    countArrivals,
    {
      name: ledger.name,
      consume: async (client, between) => {
        await ledger.consume(client, between)
        client.once('error', isLetGo)
        isInside()
        await continued
      },
    },
  ])
  const [other] = servers
  await other?.changes.append([reading(1, 5000)], [])
  const failed = expect(slow.consumers.run()).rejects.toThrow(/terminat|connection/i)
  await inside
  await other?.consumers.run()
  const before = await marksAndHeard()
  expect(before.heard).toHaveLength(before.marks.length - 1)
  // After ten seconds the database lets go for it.
  await letGo
  await other?.consumers.run()
  goOn()
  await failed
  await slow.consumers.run()
  const { marks, heard } = await marksAndHeard()
  expect(heard).toEqual(marks)
  await slow.database.$client.end()
}, 60_000)

/** Something to wait for, and what says that it has come. */
function signalled(): [wait: Promise<void>, say: () => void] {
  let say: () => void = () => undefined
  const wait = new Promise<void>((done) => {
    say = done
  })
  return [wait, say]
}
