import { routes } from '@jaunty-sparrow/contract'
import { Quality, type Reading } from '@jaunty-sparrow/core/signal'
import { pino } from 'pino'
import { Consumers } from '../afterCommit/consumers.ts'
import { Thinning } from '../ingest/thinning.ts'
import { keepHeard } from '../presence/keepHeard.ts'
import { readHeard } from '../presence/readHeard.ts'
import { LargeChanges } from '../readings/largeChanges.ts'
import { ReadingChanges } from '../readings/readingChanges.ts'
import { ReadingPartitions } from '../readings/readingPartitions.ts'
import { duePages } from '../rollups/duePages.ts'
import { RollupBuilder } from '../rollups/rollupBuilder.ts'
import { startServer } from '../server.ts'
import { type Database, openDatabase } from '../store/database.ts'
import { type ServerUnderTest, serverUnderTest, TestPerson, testConfig } from '../testing/serverUnderTest.ts'
import { countArrivals } from './countArrivals.ts'

const minute = 60_000
const onChange = { by: 'change', deadband: 0, heartbeat: 3600 } as const
const start = Date.UTC(2026, 5, 21)
const log = pino({ level: 'silent' })
/** Nobody else waits here. */
const atOnce = async () => undefined

let server: ServerUnderTest
let database: Database
let changes: ReadingChanges
let consumers: Consumers
let vat: number[]
let siteId: number
beforeAll(async () => {
  server = await serverUnderTest({ now: () => start + 24 * 60 * minute })
  const { owner } = server
  const { body: kit } = await owner.call(routes.createKit, {
    body: {
      name: 'Vat',
      cadence: null,
      signals: [
        { field: '/top', name: 'Top', kind: 'number' },
        { field: '/lid', name: 'Lid', kind: 'switch', storing: onChange },
        { field: '/place', name: 'Place', kind: 'position' },
      ],
    },
  })
  await owner.createDevice('vat', kit.id)
  const device = await owner.device('vat')
  siteId = device.siteId
  vat = device.signals.map(({ id }) => id)
  await owner.call(routes.changeSite, { params: { siteId }, body: { lat: 51.5, lon: -0.13 } })
  await server.close()
  database = openDatabase(server.databaseUrl, log)
  const pool = database.$client
  changes = new ReadingChanges(database, new ReadingPartitions(pool), new LargeChanges(database, log))
  consumers = await Consumers.open({ pool, log, consumers: [duePages, keepHeard, countArrivals] })
})
afterAll(() => database.$client.end())

const reading = (signal: number | undefined, at: number, value: number): Reading => ({
  signal: signal ?? 0,
  at,
  receivedAt: at,
  value,
  quality: Quality.good,
})

const counts = async () => {
  const { rows } = await database.$client.query<{ minute: number; readings: number }>(
    'select minute, readings from arrival_count where site_id = $1 order by minute',
    [siteId],
  )
  return rows.map(({ minute, readings }) => [minute - start / 60_000, readings])
}

it('counts and hears also what a storing rule leaves out, each once', async () => {
  const [top, lid] = vat
  const thinning = new Thinning(() => new Map([[lid ?? 0, onChange]]), changes.append)
  await thinning.write([reading(top, start, 4), reading(lid, start, 0)], [])
  await thinning.write([reading(lid, start + 30_000, 0)], [])
  await thinning.write([reading(lid, start + 90_000, 0), reading(top, start + 61_000, 5)], [])
  await consumers.run()
  await consumers.run()
  expect(await counts()).toEqual([
    [0, 3],
    [1, 2],
  ])
  const heard = await readHeard(database.$client)
  expect(heard.signals.get(lid ?? 0)).toBe(start + 90_000)
  expect(heard.signals.get(top ?? 0)).toBe(start + 61_000)
  expect([...heard.devices.values()]).toEqual([start + 90_000])
  const { rows } = await database.$client.query<{ thinned: Reading[] }>(
    'select thinned from after_commit where thinned is not null order by id',
  )
  expect(rows.flatMap(({ thinned }) => thinned)).toEqual([
    reading(lid, start + 30_000, 0),
    reading(lid, start + 90_000, 0),
  ])
})

it('tells what came in by arrival, before that what was measured, and when it was night', async () => {
  const [top, , place] = vat
  // Long before anything was counted, as a file brings it.
  const past = Array.from({ length: 7 }, (_, n) => reading(top, start - 5 * 60 * minute + n * 1000, n))
  const somewhere = { ...reading(place, start - 4 * 60 * minute, 0), value: { lat: 1, lon: 2 } }
  await changes.append([...past, somewhere], [], [])
  await consumers.run()
  await database.$client.query(`update due_page set since = since - interval '1 minute'`)
  await new RollupBuilder(database.$client, () => start + 365 * 86_400_000, atOnce).run()
  const again = await startServer(testConfig(server.databaseUrl), {
    webRoot: undefined,
    now: () => start + 24 * 60 * minute,
  })
  try {
    const owner = new TestPerson(again.url)
    owner.cookie = server.owner.cookie
    const { body } = await owner.call(routes.getSiteDay, {
      params: { siteId },
      query: { to: start + 12 * 60 * minute },
    })
    const some = body.came.flatMap((count, slot) =>
      count ? [[(body.from + slot * body.slot - start) / minute, count]] : [],
    )
    expect(some).toEqual([
      [-300, 7],
      [-240, 1],
      [0, 5],
    ])
    expect([body.from, body.to]).toEqual([start - 12 * 60 * minute, start + 12 * 60 * minute])
    expect(body.nights).toHaveLength(1)
    const { status } = await owner.call(routes.getSiteDay, { params: { siteId: 999 }, query: { to: start } })
    expect(status).toBe(404)
  } finally {
    await again.close()
  }
})
