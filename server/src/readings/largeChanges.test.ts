import { pino } from 'pino'
import { type Database, migrateDatabase, openDatabase } from '../store/database.ts'
import { emptyDatabase } from '../testing/serverUnderTest.ts'
import { LargeChanges } from './largeChanges.ts'
import { ReadingChanges } from './readingChanges.ts'
import { ReadingPartitions } from './readingPartitions.ts'

const log = pino({ level: 'silent' })
let database: Database
beforeAll(async () => {
  const url = await emptyDatabase()
  await migrateDatabase(url)
  database = openDatabase(url, log)
})
afterAll(() => database.$client.end())

const fill = async (signal: number, count: number) => {
  await new ReadingPartitions(database.$client).prepare(Date.UTC(2026, 10, 1))
  await database.$client.query(
    `insert into reading (signal_id, at, received_at, value, quality)
     select $1, '2026-11-01Z'::timestamptz + n * interval '1 second', now(), n, 0 from generate_series(1, $2::int) n`,
    [signal, count],
  )
}
const held = async (signal: number) => {
  const { rows } = await database.$client.query<{ count: string; sum: number }>(
    'select count(*), coalesce(sum(value), 0) as sum from reading where signal_id = $1',
    [signal],
  )
  return [Number(rows[0]?.count), rows[0]?.sum]
}
const changesOf = () => {
  const large = new LargeChanges(database, log)
  return { large, changes: new ReadingChanges(database, new ReadingPartitions(database.$client), large) }
}
const sum = (count: number) => (count * (count + 1)) / 2

it('moves readings piece by piece, keeps those that are there, and leaves a mark with each piece', async () => {
  await fill(1, 50_000)
  await fill(2, 3)
  await database.$client.query('update reading set value = -1 where signal_id = 2')
  const { changes } = changesOf()
  const carryOut = await database.transaction((tx) => changes.move(tx, [{ from: 1, to: 2 }]))
  await carryOut()
  expect(await held(1)).toEqual([0, 0])
  expect(await held(2)).toEqual([50_000, sum(50_000) - sum(3) - 3])
  const { rows } = await database.$client.query('select kind, signals from after_commit order by id')
  expect(rows).toEqual([2, 2, 2].map((kind) => ({ kind, signals: [1, 2] })))
})

it('goes on where it was when it was interrupted between two pieces', async () => {
  await fill(3, 45_000)
  const broken = changesOf()
  let pieces = 0
  broken.large.carryOut('move', async () => {
    throw new Error(`killed before piece ${++pieces}`)
  })
  const carryOut = await database.transaction((tx) => broken.changes.move(tx, [{ from: 3, to: 4 }]))
  await expect(carryOut()).rejects.toThrow('killed before piece 1')
  expect(await held(3)).toEqual([45_000, sum(45_000)])
  await changesOf().large.resume()
  expect(await held(3)).toEqual([0, 0])
  expect(await held(4)).toEqual([45_000, sum(45_000)])
  // There is nothing left to be taken up.
  await changesOf().large.resume()
  expect(await held(4)).toEqual([45_000, sum(45_000)])
})

it('lets two servers carry out the same change without doing it twice', async () => {
  await fill(5, 60_000)
  const carryOut = await database.transaction((tx) => changesOf().changes.move(tx, [{ from: 5, to: 6 }]))
  await Promise.all([carryOut(), changesOf().large.resume(), changesOf().large.resume()])
  expect(await held(5)).toEqual([0, 0])
  expect(await held(6)).toEqual([60_000, sum(60_000)])
})

it('removes all of some signals', async () => {
  await fill(7, 25_000)
  await fill(8, 10)
  await changesOf().changes.remove([7, 8])
  expect([await held(7), await held(8)]).toEqual([
    [0, 0],
    [0, 0],
  ])
})
