import type { Calibration } from '@jaunty-sparrow/core/calibration'
import type { TracePoint } from '@jaunty-sparrow/core/chart'
import { type Level, readReadings } from '@jaunty-sparrow/core/rollup'
import { Quality, type Reading } from '@jaunty-sparrow/core/signal'
import fc from 'fast-check'
import groupBy from 'lodash-es/groupBy.js'
import uniq from 'lodash-es/uniq.js'
import { pino } from 'pino'
import { Consumers } from '../afterCommit/consumers.ts'
import { LargeChanges } from '../readings/largeChanges.ts'
import { ReadingChanges } from '../readings/readingChanges.ts'
import { ReadingPartitions } from '../readings/readingPartitions.ts'
import { type Database, migrateDatabase, openDatabase } from '../store/database.ts'
import { inTransaction } from '../store/inTransaction.ts'
import { emptyDatabase } from '../testing/serverUnderTest.ts'
import { TraceReader } from '../traces/traceReader.ts'
import { duePages } from './duePages.ts'
import { HistoryReader } from './historyReader.ts'
import { RollupBuilder } from './rollupBuilder.ts'

const log = pino({ level: 'silent' })
const start = Date.UTC(2026, 9, 25)
const hour = 3_600_000
const day = 24 * hour
/** Nobody else waits here. */
const atOnce = async () => undefined

let url: string
let database: Database
let changes: ReadingChanges
let consumers: Consumers
let traces: TraceReader
beforeAll(async () => {
  url = await emptyDatabase()
  await migrateDatabase(url)
  database = openDatabase(url, log)
  const { $client: pool } = database
  await pool.query(`insert into site (name, time_zone) values ('s', 'UTC')`)
  await pool.query('insert into kit default values')
  await pool.query(
    `insert into device (site_id, kit_id, name, address, secret_hash) values (1, 1, 'd', 'd', '')`,
  )
  await pool.query(
    `insert into signal_definition (kit_id, field, name, kind, state)
     select 1, '/' || n, n, case when n < 4 then 'number' when n < 7 then 'switch' else 'position' end, 'accepted'
     from generate_series(1, 7) n`,
  )
  await pool.query(
    'insert into signal (device_id, definition_id) select 1, id from signal_definition order by id',
  )
  changes = new ReadingChanges(database, new ReadingPartitions(pool), new LargeChanges(database, log))
  consumers = await Consumers.open({ pool, log, consumers: [duePages] })
  traces = new TraceReader(new HistoryReader(pool))
})
afterAll(() => database.$client.end())

const reading = (signal: number, at: number, value: number, quality: number = Quality.good): Reading => ({
  signal,
  at,
  receivedAt: at,
  value,
  quality,
})

/** Builds what is due, as if a year had gone by and everything had rested. */
async function build(): Promise<void> {
  await consumers.run()
  await database.$client.query(`update due_page set since = since - interval '1 minute'`)
  await new RollupBuilder(database.$client, () => start + 365 * day, atOnce).run()
}

const due = async () => {
  const { rows } = await database.$client.query<{ count: number }>('select count(*)::int from due_page')
  return rows[0]?.count
}

/** Of each column the first, lowest, highest and last point: what a line through all of them looks like. */
function picture(points: readonly TracePoint[], width: number): TracePoint[] {
  const columns = groupBy(points, ([at]) => Math.floor(at / width))
  return Object.values(columns)
    .flatMap((own) => {
      const values = own.map(([, value]) => value)
      const first = (wanted: number) => own.find(([, value]) => value === wanted)
      return uniq([own[0], first(Math.min(...values)), first(Math.max(...values)), own.at(-1)])
    })
    .filter((point) => point !== undefined)
    .sort(([a], [b]) => a - b)
}

/** What is stored of a signal and is no fault, as it goes out. */
async function stored(
  signal: number,
  [from, to]: readonly [number, number, ...unknown[]],
  calibrations: readonly Calibration[],
): Promise<TracePoint[]> {
  const { rows } = await database.$client.query<{ at: Date; value: number }>(
    'select at, value from reading where signal_id = $1 and at >= $2 and at < $3 and quality & 24 = 0 order by at',
    [signal, new Date(from), new Date(to)],
  )
  return rows.map(({ at, value }) => {
    const held = calibrations.findLast(({ validFrom }) => validFrom <= at.getTime())
    return [at.getTime(), held ? value * held.gain + held.offset : value]
  })
}

/** Spans and widths that readings themselves and each level fit, and what is on whole columns of them. */
const looks = [
  [start + 10 * 60_000, start + 70 * 60_000, 90, 40_000],
  [start, start + 2 * hour, 60, 120_000],
  [start - hour, start + 9 * hour, 40, 900_000],
  [start - day, start + 2 * day, 72, hour],
  [start - 10 * day, start + 20 * day, 15, 2 * day],
] as const

async function expectPictures(signals: readonly number[], calibrations: readonly Calibration[] = []) {
  for (const look of looks) {
    const [from, to, columns, width] = look
    const asked = signals.map((signal) => ({
      signal,
      calibrations,
      kind: signal > 3 ? ('switch' as const) : ('number' as const),
    }))
    for (const { signal, points } of await traces.read(asked, { from, to }, columns)) {
      expect(points.length).toBeLessThanOrEqual(4 * columns)
      const whole = await stored(signal, look, calibrations)
      expect({ signal, look, drawn: picture(points, width) }).toEqual({
        signal,
        look,
        drawn: picture(whole, width),
      })
    }
  }
}

it('draw the picture that all readings make, in whatever order they came, were corrected, moved and removed', async () => {
  const anyReading = fc.record({
    signal: fc.integer({ min: 1, max: 6 }),
    at: fc.oneof(
      fc.integer({ min: start, max: start + 4 * hour }),
      fc.integer({ min: start - day, max: start + 2 * day }),
    ),
    value: fc.integer({ min: 0, max: 9 }),
    quality: fc.constantFrom(
      Quality.good,
      Quality.good,
      Quality.atFault,
      Quality.beyondRange,
      Quality.markedBad,
    ),
  })
  const append = fc.record({
    kind: fc.constant('append' as const),
    readings: fc.array(anyReading, { minLength: 1, maxLength: 40 }),
  })
  const change = fc.record({
    kind: fc.constantFrom('correct' as const, 'take' as const, 'move' as const, 'build' as const),
    signal: fc.integer({ min: 1, max: 3 }),
  })
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.oneof(append, append, change), { minLength: 3, maxLength: 12 }),
      async (steps) => {
        await database.$client.query('truncate reading, rollup_page, due_page')
        for (const step of steps) {
          if (step.kind === 'append') {
            const own = step.readings.map(({ signal, at, value, quality }) =>
              reading(signal, at, signal < 4 ? value : value % 2, quality),
            )
            await changes.append(own, [])
          } else if (step.kind === 'build') await build()
          else if (step.kind === 'move') {
            const carryOut = await database.transaction((tx) =>
              changes.move(tx, [{ from: step.signal, to: (step.signal % 3) + 1 }]),
            )
            await carryOut()
          } else await correctSome(step.signal, step.kind === 'take')
        }
        // As they are before anything followed, between two builds, and built.
        await expectPictures([1, 2, 3, 4, 5, 6])
        await consumers.run()
        await expectPictures([1, 2, 3, 4, 5, 6])
        await build()
        expect(await due()).toBe(0)
        await expectPictures([1, 2, 3, 4, 5, 6])
      },
    ),
    { numRuns: 40 },
  )
}, 120_000)

/** Gives every third reading of a signal another value, or removes it. */
async function correctSome(signal: number, isRemoved: boolean): Promise<void> {
  const { rows } = await database.$client.query<{ at: Date; value: number; quality: number }>(
    'select at, value, quality from reading where signal_id = $1 order by at',
    [signal],
  )
  const third = rows.filter((_, index) => index % 3 === 0)
  await inTransaction(database.$client, (client) =>
    changes.correct(
      client,
      third.map(({ at, value, quality }) => ({
        signal,
        at: at.getTime(),
        receivedAt: at.getTime(),
        before: { value, quality },
        after: isRemoved ? null : { value: value + 5, quality: Quality.good },
      })),
    ),
  )
}

it('are corrected exactly, also where a correction begins inside a bucket and turns it upside down', async () => {
  await database.$client.query('truncate reading, rollup_page, due_page')
  const all = Array.from({ length: 2000 }, (_, n) =>
    reading(1, start + n * 7_000, Math.round(Math.sin(n / 40) * 100)),
  )
  await changes.append(all, [])
  await build()
  await expectPictures(
    [1],
    [
      { gain: 2, offset: 1, validFrom: 0 },
      { gain: -1, offset: 3, validFrom: start + 1_234_567 },
    ],
  )
})

it('hold all there is of each reading, so that its row could go', async () => {
  await consumers.run()
  await database.$client.query('truncate reading, rollup_page, due_page')
  const all = Array.from({ length: 500 }, (_, n) => ({
    ...reading(1, start + n * 7_000, n / 10, n % 50 === 0 ? Quality.atFault : Quality.good),
    receivedAt: start + n * 7_000 + (n % 9),
    ...(n > 100 && { raw: n * 3 }),
  }))
  await changes.append(all, [])
  await build()
  const { rows } = await database.$client.query<{ body: Buffer }>(
    'select body from rollup_page where level = 0 order by page',
  )
  expect(rows.flatMap(({ body }) => readReadings(body))).toEqual(all.map(({ signal: _, ...rest }) => rest))
})

it('tell where something was first and last, and how far it came, also when all of it is built', async () => {
  await consumers.run()
  await database.$client.query('truncate reading, position_reading, rollup_page, due_page')
  const where = (n: number) => ({ lat: 50 + Math.sin(n), lon: -1 + Math.cos(n * 3) })
  const all = Array.from({ length: 300 }, (_, n) => ({
    ...reading(7, start + n * 60_000, 0, n % 40 === 3 ? Quality.markedBad : Quality.good),
    value: where(n),
  }))
  await changes.append(all, [])
  const expected = all
    .filter(({ quality }) => quality === Quality.good)
    .map(({ at, value }) => ({ at, ...value }))
  const history = new HistoryReader(database.$client)
  const asked = [{ signal: 7, calibrations: [], kind: 'position' as const }]
  const look = async () => {
    for (const axis of ['lat', 'lon'] as const) {
      const found = (await history.slots(asked, { from: start, to: start + day }, day as Level, axis)).get(7)
      const values = expected.map((each) => each[axis])
      expect([...(found?.values() ?? [])]).toMatchObject([
        {
          voids: 8,
          bucket: {
            first: values[0],
            firstAt: start,
            last: values.at(-1),
            lastAt: expected.at(-1)?.at,
            lowest: Math.min(...values),
            highest: Math.max(...values),
          },
        },
      ])
    }
  }
  await look()
  await build()
  expect(await due()).toBe(0)
  await look()
  // It has no course that could be drawn on an axis.
  const [trace] = await traces.read(asked, { from: start, to: start + day }, 100)
  expect(trace?.points).toEqual([])
})

it('tell what lies beside the span, so that its line goes on to both ends', async () => {
  await database.$client.query('truncate reading, rollup_page, due_page')
  await changes.append(
    [
      reading(1, start - 5000, 1),
      reading(1, start - 4000, 2, Quality.atFault),
      reading(1, start + 3 * day, 3),
    ],
    [],
  )
  const [trace] = await traces.read(
    [{ signal: 1, calibrations: [], kind: 'number' }],
    { from: start, to: start + day },
    100,
  )
  expect(trace).toEqual({
    signal: 1,
    points: [],
    width: 900_000,
    before: [start - 5000, 1],
    after: [start + 3 * day, 3],
  })
})

it('are built when they rest, and not as long as something comes that is late', async () => {
  await consumers.run()
  await database.$client.query('truncate reading, rollup_page, due_page')
  const builder = new RollupBuilder(database.$client, () => start + 365 * day, atOnce)
  const wait = (seconds: number) =>
    database.$client.query('update due_page set since = since - make_interval(secs => $1)', [seconds])
  for (let n = 0; n < 3; n++) {
    await changes.append([reading(1, start + n, 1)], [])
    await consumers.run()
    await wait(35)
    await builder.run()
    expect(await due()).toBe(1)
  }
  await wait(10)
  await builder.run()
  expect(await due()).toBe(0)
})

it('are built by one at a time, however often that is asked for', async () => {
  await consumers.run()
  await database.$client.query('truncate reading, rollup_page, due_page')
  await changes.append(
    Array.from({ length: 100 }, (_, n) => reading(1, start + n * hour, n)),
    [],
  )
  await consumers.run()
  await database.$client.query(`update due_page set since = since - interval '1 minute'`)
  let pauses = 0
  let isAlone = true
  let isPausing = false
  const builder = new RollupBuilder(
    database.$client,
    () => start + 365 * day,
    async () => {
      if (isPausing) isAlone = false
      isPausing = true
      pauses++
      await builder.run()
      isPausing = false
    },
  )
  await builder.run()
  expect(await due()).toBe(0)
  expect(pauses).toBeGreaterThan(2)
  expect(isAlone).toBe(true)
})

it('are due where something was touched, however far apart that was', async () => {
  await consumers.run()
  await database.$client.query('truncate reading, rollup_page, due_page')
  await changes.append([reading(1, start - 5 * 365 * day, 1), reading(1, start, 2)], [])
  await consumers.run()
  expect(await due()).toBe(2)
})

it('skip nothing that commits crosswise', async () => {
  await consumers.run()
  await database.$client.query('truncate reading, rollup_page, due_page')
  const slow = await database.$client.connect()
  await slow.query('begin')
  await slow.query(
    `insert into after_commit (kind, signals, from_at, to_at) values (0, '{2}', array[to_timestamp($1)], array[to_timestamp($1)])`,
    [start / 1000],
  )
  // Numbered later, committed and consumed earlier.
  await changes.append([reading(1, start, 1)], [])
  await consumers.run()
  expect(await due()).toBe(1)
  await slow.query('commit')
  slow.release()
  await consumers.run()
  expect(await due()).toBe(2)
})

it('keep how far they have come and what they wrote together', async () => {
  await database.$client.query('truncate reading, rollup_page, due_page')
  await changes.append([reading(1, start, 1)], [])
  let isKilled = true
  const breaking = await Consumers.open({
    pool: database.$client,
    log,
    consumers: [
      {
        name: 'rollups',
        consume: async (client, between) => {
          await duePages.consume(client, between)
          if (isKilled) throw new Error('killed')
        },
      },
    ],
  })
  await expect(breaking.run()).rejects.toThrow('killed')
  expect(await due()).toBe(0)
  isKilled = false
  await breaking.run()
  expect(await due()).toBe(1)
})

it('follow what they had not, where the database was restored into another cluster', async () => {
  await consumers.run()
  await database.$client.query('truncate reading, rollup_page, due_page, after_commit')
  await changes.append([reading(4, start, 1)], [])
  // Its transactions had far larger numbers than this one will ever see.
  await database.$client.query(`update after_commit set xid = '700000000000'`)
  await changes.append([reading(1, start, 1), reading(2, start, 1)], [])
  await database.$client.query(`update after_commit set xid = '900000000000' where xid < '700000000000'`)
  await database.$client.query(`update consumer set cluster = 1, seen = '800000000000:800000000000:'`)
  const restored = await Consumers.open({ pool: database.$client, log, consumers: [duePages] })
  expect(await due()).toBe(2)
  await changes.append([reading(3, start, 1)], [])
  await restored.run()
  expect(await due()).toBe(3)
  await restored.trim()
})

it('let go of what all have consumed, and of who consumes no more', async () => {
  await consumers.run()
  await database.$client.query(
    `insert into consumer select 'long-gone', '1:1:', cluster from consumer limit 1`,
  )
  await consumers.trim()
  const marks = async () => (await database.$client.query('select 1 from after_commit')).rowCount
  await changes.append([reading(1, start + 1, 1)], [])
  await consumers.trim()
  expect(await marks()).toBeGreaterThan(0)
  const again = await Consumers.open({ pool: database.$client, log, consumers: [duePages] })
  // What is written in other databases of the cluster meanwhile holds the last ones back for as long.
  while ((await marks()) !== 0) {
    await again.run()
    await again.trim()
  }
})
