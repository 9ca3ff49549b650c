import type { FoundDerivation } from '@jaunty-sparrow/core/derived'
import { Quality, type Reading } from '@jaunty-sparrow/core/signal'
import type pg from 'pg'
import { pino } from 'pino'
import { Consumers } from '../afterCommit/consumers.ts'
import { LargeChanges } from '../readings/largeChanges.ts'
import { ReadingChanges } from '../readings/readingChanges.ts'
import { ReadingPartitions } from '../readings/readingPartitions.ts'
import { migrateDatabase, openDatabase } from '../store/database.ts'
import { inTransaction } from '../store/inTransaction.ts'
import { chanceFrom } from '../testing/chance.ts'
import { killAtRandom } from '../testing/killAtRandom.ts'
import { emptyDatabase } from '../testing/serverUnderTest.ts'
import { DerivedBuilder } from './derivedBuilder.ts'
import { dueDerived } from './dueDerived.ts'

const log = pino({ level: 'silent' })
const start = Date.UTC(2026, 9, 25)
const [temperature, humidity, mixed, chained] = [1, 2, 3, 4]

/** (temperature of 30 s at most) × 100 + the mean humidity of 20 s. */
const mixture: FoundDerivation = {
  formula: 't * 100 + h',
  inputs: [
    { name: 't', signal: temperature, take: { by: 'last' }, ageLimit: 30 },
    { name: 'h', signal: humidity, take: { by: 'mean', over: 20 }, ageLimit: 40 },
  ],
  constants: {},
  isSwitch: false,
  range: { low: null, high: null },
  zone: 'UTC',
}
/** The highest of the mixture in 15 s. */
const chain: FoundDerivation = {
  ...mixture,
  formula: 'm',
  inputs: [{ name: 'm', signal: mixed, take: { by: 'highest', over: 15 }, ageLimit: 15 }],
}

async function open(url: string) {
  const database = openDatabase(url, log)
  const { $client: pool } = database
  const changes = new ReadingChanges(database, new ReadingPartitions(pool), new LargeChanges(database, log))
  const consumers = await Consumers.open({ pool, log, consumers: [dueDerived] })
  const pastChanged = () => Promise.resolve()
  const builder = new DerivedBuilder({ pool, changes, told: () => undefined, pastChanged })
  return { pool, changes, consumers, builder }
}
type TestServer = Awaited<ReturnType<typeof open>>

let servers: TestServer[]
let first: TestServer
beforeAll(async () => {
  const url = await emptyDatabase()
  await migrateDatabase(url)
  first = await open(url)
  servers = [first, await open(url), await open(url)]
  await first.pool.query(`
    insert into site (name, time_zone) values ('s', 'UTC');
    insert into kit default values;
    insert into device (site_id, kit_id, name, address, secret_hash) values (1, 1, 'd', 'd', '');
    insert into signal_definition (kit_id, field, name, kind, state)
      select 1, '/' || n, n, 'number', 'accepted' from generate_series(1, 4) n;
    insert into signal (device_id, definition_id) select 1, id from signal_definition order by id`)
  for (const [signal, found] of [
    [mixed, mixture],
    [chained, chain],
  ] as const) {
    await first.pool.query('insert into derived values ($1, $2)', [signal, JSON.stringify(found)])
    for (const { signal: input, ageLimit, take } of found.inputs)
      await first.pool.query('insert into derived_input values ($1, $2, $3)', [
        signal,
        input,
        ageLimit + ('over' in take ? Number(take.over) : 0),
      ])
  }
})
afterAll(async () => {
  for (const { pool } of servers) await pool.end()
})

const reading = (signal: number, second: number, value: number): Reading => ({
  signal,
  at: start + second * 1000,
  receivedAt: start + second * 1000,
  value,
  quality: Quality.good,
})

/** What a signal's readings are now, by second, in order. */
async function stored(pool: pg.Pool, signal: number): Promise<(readonly [number, number])[]> {
  const { rows } = await pool.query<{ second: number; value: number }>(
    `select (extract(epoch from at) - $2)::float8 as second, value from reading where signal_id = $1 order by at`,
    [signal, start / 1000],
  )
  return rows.map(({ second, value }) => [second, value] as const)
}

/** What it comes to by its definition, instant for instant, from all rows. */
function plainly(t: (readonly [number, number])[], h: (readonly [number, number])[]) {
  const instants = [...new Set([...t, ...h].map(([second]) => second))].sort((a, b) => a - b)
  const mixture = instants.flatMap((second) => {
    const lastT = t.findLast(([at]) => at <= second)
    const lastH = h.findLast(([at]) => at <= second)
    const window = h.filter(([at]) => at > second - 20 && at <= second)
    if (!lastT || second - lastT[0] > 30 || !lastH || second - lastH[0] > 40 || window.length === 0) return []
    return [
      [second, lastT[1] * 100 + window.reduce((sum, [, value]) => sum + value, 0) / window.length] as const,
    ]
  })
  const highest = mixture.map(
    ([second]) =>
      [
        second,
        Math.max(...mixture.filter(([at]) => at > second - 15 && at <= second).map(([, v]) => v)),
      ] as const,
  )
  return { mixture, highest }
}

/** Follows until nothing is due any more, by whichever server. */
async function settle(): Promise<void> {
  let due = 1
  while (due > 0) {
    for (const { consumers, builder } of servers) {
      await consumers.run()
      await builder.run()
    }
    const { rows } = await first.pool.query<{ due: number }>(
      `select (select count(*) from due_derived)::int + (select count(*) from after_commit mark, consumer
         where mark.xid >= pg_snapshot_xmin(seen) and not pg_visible_in_snapshot(mark.xid, seen))::int as due`,
    )
    due = rows[0]?.due ?? 0
  }
}

async function expectExact(): Promise<void> {
  const { pool } = first
  const expected = plainly(await stored(pool, temperature), await stored(pool, humidity))
  expect(expected.mixture.length).toBeGreaterThan(20)
  for (const [signal, wanted] of [
    [mixed, expected.mixture],
    [chained, expected.highest],
  ] as const) {
    const found = await stored(pool, signal)
    expect(found.map(([second]) => second)).toEqual(wanted.map(([second]) => second))
    for (const [place, [, value]] of found.entries()) expect(value).toBeCloseTo(wanted[place]?.[1] ?? NaN, 8)
  }
}

it('come to what a slow computation makes of the final rows, in whichever order they came and were corrected', async () => {
  const random = chanceFrom(7)
  const all = [temperature, humidity].flatMap((signal) =>
    Array.from({ length: 120 }, (_, n) => reading(signal, n * 7 + signal, Math.round(random() * 1000) / 10)),
  )
  const shuffled = all.map((each) => [random(), each] as const).sort(([a], [b]) => a - b)
  for (let n = 0; n < shuffled.length; n += 10) {
    const batch = shuffled.slice(n, n + 10).map(([, each]) => each)
    await first.changes.append(batch, [])
    // Some come again, and are followed while others come in.
    if (n % 30 === 0) await first.changes.append(batch.slice(0, 3), [])
    await Promise.all(servers.map(({ consumers }) => consumers.run()))
    await Promise.all(servers.map(({ builder }) => builder.run()))
  }
  await settle()
  await expectExact()

  const corrected = all.filter(() => random() < 0.1)
  await inTransaction(first.pool, (client) =>
    first.changes.correct(
      client,
      corrected.map(({ signal, at, receivedAt, value, quality }, place) => ({
        ...{ signal, at, receivedAt },
        before: { value, quality },
        after: place % 3 === 0 ? null : { value: 55, quality },
      })),
    ),
  )
  await settle()
  await expectExact()
}, 120_000)

it('are exact where one server is slow and others see what came in meanwhile', async () => {
  let isInside = false
  let say: () => void = () => undefined
  const inside = new Promise<void>((done) => {
    say = done
  })
  let goOn: () => void = () => undefined
  const continued = new Promise<void>((done) => {
    goOn = done
  })
  const slow = new DerivedBuilder({
    pool: first.pool,
    changes: {
      correct: async (...given) => {
        isInside = true
        say()
        await continued
        await first.changes.correct(...given)
      },
    },
    told: () => undefined,
    pastChanged: () => Promise.resolve(),
  })
  await first.changes.append([reading(temperature, 5000, 1), reading(humidity, 5010, 2)], [])
  await first.consumers.run()
  // What is due waits for some milliseconds.
  const done = (async () => {
    while (!isInside) await slow.run()
  })()
  await inside
  // It has read what it works with, and does not know of this one.
  await first.changes.append([reading(temperature, 5005, 30)], [])
  for (const { consumers, builder } of servers) {
    await consumers.run()
    await builder.run()
  }
  goOn()
  await done
  await settle()
  await expectExact()
}, 60_000)

it('are exact whatever is killed at whatever instant', async () => {
  let isOver = false
  const random = chanceFrom(11)
  const writing = servers.map(async ({ changes }, place) => {
    for (let n = 0; n < 150; n++) {
      const signal = n % 2 === 0 ? temperature : humidity
      const write = () =>
        changes.append([reading(signal, 10_000 + n * 9 + place * 3, Math.round(random() * 100))], [])
      // Whoever was not told that it holds sends it again.
      for (let isDone = false; !isDone; )
        isDone = await write().then(
          () => true,
          () => false,
        )
    }
  })
  const following = servers.map(async ({ consumers, builder }) => {
    while (!isOver) {
      await consumers.run().catch(() => undefined)
      await builder.run().catch(() => undefined)
    }
  })
  const killing = killAtRandom(first.pool, () => isOver)
  await Promise.all(writing)
  isOver = true
  await Promise.all([...following, killing])
  await settle()
  expect(await killing).toBeGreaterThan(10)
  await expectExact()
}, 120_000)
