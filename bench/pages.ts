import type { Reading } from '@jaunty-sparrow/core/signal'
import { tracePath } from '@jaunty-sparrow/drawings/chart'
import { rasterise } from '@jaunty-sparrow/drawings/testing'
import type pg from 'pg'
import { pino } from 'pino'
import { Consumers } from '../server/src/afterCommit/consumers.ts'
import { LargeChanges } from '../server/src/readings/largeChanges.ts'
import { ReadingChanges } from '../server/src/readings/readingChanges.ts'
import { ReadingPartitions } from '../server/src/readings/readingPartitions.ts'
import { duePages } from '../server/src/rollups/duePages.ts'
import { HistoryReader } from '../server/src/rollups/historyReader.ts'
import { RollupBuilder } from '../server/src/rollups/rollupBuilder.ts'
import { type Database, migrateDatabase, openDatabase } from '../server/src/store/database.ts'
import { TraceReader } from '../server/src/traces/traceReader.ts'

const second = 1000
const hour = 3600 * second
const start = Date.UTC(2026, 3, 1)
const pictures = 1000
/** Nobody else waits here. */
const atOnce = async () => undefined

/** The same numbers make the same run. */
function chances(seed: number): () => number {
  let state = seed
  return () => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0
    return state / 2 ** 32
  }
}

/** What a temperature says once a second for a day, stored as it comes: of six signals in turn. */
function* temperatures(): Generator<Reading> {
  const chance = chances(1)
  const values = Array.from({ length: 6 }, () => 20 + chance())
  for (let n = 0; n < 86_400; n++)
    for (let signal = 1; signal <= 6; signal++) {
      const value = (values[signal - 1] ?? 0) + (chance() - 0.5) / 20
      values[signal - 1] = value
      const at = start + n * second
      const receivedAt = at + 15 + Math.floor(chance() * 20)
      yield { signal, at, receivedAt, value: Math.round(value * 100) / 100, quality: 0 }
    }
}

/** Three days of a walk every ten seconds or so, with silences. */
function* walk(): Generator<Reading> {
  const chance = chances(2)
  let value = 30
  for (let at = start; at < start + 72 * hour; at += 5000 + Math.floor(chance() * 10_000)) {
    if (chance() < 0.001) at += chance() * 2 * hour
    value = Math.min(60, Math.max(0, value + (chance() - 0.5) * 4))
    yield {
      signal: 7,
      at: Math.floor(at),
      receivedAt: Math.floor(at),
      value: Math.round(value * 4) / 4,
      quality: 0,
    }
  }
}

async function store(changes: ReadingChanges, readings: Iterable<Reading>): Promise<number> {
  let batch: Reading[] = []
  let count = 0
  for (const reading of readings) {
    batch.push(reading)
    count++
    if (batch.length < 3000) continue
    await changes.append(batch, [])
    batch = []
  }
  await changes.append(batch, [])
  return count
}

/** How much pages take, and whether what is drawn from them is what all readings draw. */
export async function pages(databaseUrl: string): Promise<string[]> {
  await migrateDatabase(databaseUrl)
  const log = pino({ level: 'silent' })
  const database = openDatabase(databaseUrl, log)
  const { $client: pool } = database
  await pool.query(`insert into site (name, time_zone) values ('Bench', 'UTC')`)
  await pool.query('insert into kit default values')
  await pool.query(
    `insert into device (site_id, kit_id, name, address, secret_hash) values (1, 1, 'd', 'd', '')`,
  )
  await pool.query(
    `insert into signal_definition (kit_id, field, name, kind, state) select 1, '/' || n, n, 'number', 'accepted' from generate_series(1, 7) n`,
  )
  await pool.query(
    'insert into signal (device_id, definition_id) select 1, id from signal_definition order by id',
  )
  const changes = new ReadingChanges(database, new ReadingPartitions(pool), new LargeChanges(database, log))
  const consumers = await Consumers.open({ pool, log, consumers: [duePages] })
  const count = await store(changes, temperatures())
  await consumers.run()
  await pool.query(`update due_page set since = since - interval '1 minute'`)
  const began = performance.now()
  await new RollupBuilder(pool, () => start + 100 * 24 * hour, atOnce).run()
  const built = performance.now() - began
  const bytes = async (which: string) => {
    const { rows } = await pool.query<{ bytes: number }>(
      // With what a row has besides, and its entry in the index.
      `select sum(pg_column_size(rollup_page.*) + 4 + 20)::float8 as bytes from rollup_page where ${which}`,
    )
    return (rows[0]?.bytes ?? 0) / count
  }
  const { rows: tables } = await pool.query<{ bytes: number }>(
    `select sum(pg_total_relation_size(inhrelid))::float8 as bytes from pg_inherits where inhparent = 'reading'::regclass`,
  )
  const row = (tables[0]?.bytes ?? 0) / count
  const packed = await bytes('level = 0')
  const lines = [
    `| rollups of a temperature at 1 s, all levels | ${(await bytes('level > 0')).toFixed(2)} bytes a reading | goal ≤ 1.5 |`,
    `| … its readings packed, with at, received_at, value and quality | ${packed.toFixed(1)} bytes a reading, ${(packed / row).toFixed(3)} of row and index (${row.toFixed(0)} bytes) | goal ≤ 0.12 |`,
    `| … building both | ${((built / count) * 1000).toFixed(1)} µs a reading | |`,
  ]
  await store(changes, walk())
  await consumers.run()
  await pool.query(`update due_page set since = since - interval '1 minute'`)
  await new RollupBuilder(pool, () => start + 100 * 24 * hour, atOnce).run()
  lines.push(
    `| ${pictures.toLocaleString('en')} pictures of random spans, from pages and from all readings: differing | ${await differing(database)} | goal 0 |`,
  )
  await pool.end()
  return lines
}

async function differing({ $client: pool }: Database): Promise<number> {
  const chance = chances(3)
  const traces = new TraceReader(new HistoryReader(pool))
  const { rows: all } = await pool.query<[number, number]>({
    text: 'select (extract(epoch from at) * 1000)::float8, value from reading where signal_id = 7 order by at',
    rowMode: 'array',
  } as pg.QueryArrayConfig)
  let differ = 0
  for (let n = 0; n < pictures; n++) {
    const length = 10 * 60 * second * 432 ** chance()
    const from = Math.floor(start + chance() * (72 * hour - length))
    const columns = 50 + Math.floor(chance() * 250)
    const gap = 10 * 60 * second * chance()
    const [trace] = await traces.read(
      [{ signal: 7, calibrations: [], kind: 'number' }],
      { from, to: Math.floor(from + length) },
      columns,
    )
    if (!trace) throw new Error('there is no trace')
    const { before, points, after, width } = trace
    const [first, last] = [Math.floor(from / width) * width, Math.ceil((from + length) / width) * width]
    // Where readings themselves are told, they are told from the span's own beginning to its end.
    const inside = all.filter(([at]) => at >= (before?.[0] ?? first) && at <= (after?.[0] ?? last))
    const draw = (drawn: readonly (readonly [number, number])[]) =>
      rasterise(
        tracePath(
          drawn,
          (at) => Math.floor(at / width) - Math.floor(first / width) + 0.5,
          (value) => 60 - value,
          Math.max(gap, width),
          false,
        ),
      )
    const few = [before, ...points, after].filter((point) => point !== null)
    const [one, other] = [draw(few), draw(inside)]
    if (one.size !== other.size || [...one].some((pixel) => !other.has(pixel))) differ++
  }
  return differ
}
