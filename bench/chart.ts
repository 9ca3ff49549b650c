import {
  type Bucket,
  coarser,
  levels,
  pageOf,
  type Slot,
  writeReadings,
  writeSlots,
} from '@jaunty-sparrow/core/rollup'
import pg from 'pg'
import { pino } from 'pino'
import { HistoryReader } from '../server/src/rollups/historyReader.ts'
import { migrateDatabase, openDatabase } from '../server/src/store/database.ts'
import { TraceReader } from '../server/src/traces/traceReader.ts'
import { median, quantile } from './median.ts'

const signals = 500
/** So many of them have five years, the others a month: nobody waits for more to be made. */
const long = 12
const second = 1000
const hour = 3600 * second
const day = 24 * hour
const end = Date.UTC(2026, 0, 1)
const spans = [
  ['an hour', hour],
  ['a day', day],
  ['30 days', 30 * day],
  ['a year', 365 * day],
  ['five years', 5 * 365 * day],
] as const
const columns = 1000
const rounds = 40

/** What five minutes of a sensor at one second come to, without making the readings. */
function bucketAt(start: number): Bucket {
  const hundredths = Math.round(2150 + 400 * Math.sin(start / day))
  const spread = (start / 300_000) % 17
  return {
    count: 300,
    mean: (hundredths + spread / 7) / 100,
    m2: spread * 0.03,
    first: hundredths / 100,
    firstAt: start,
    last: (hundredths + spread) / 100,
    lastAt: start + 299_000,
    lowest: (hundredths - spread) / 100,
    lowestAt: start + 61_000,
    highest: (hundredths + 2 * spread) / 100,
    highestAt: start + 177_000,
    squaredDifferences: spread * 0.05,
    longestGap: second,
  }
}

interface Page {
  readonly level: number
  readonly page: number
  readonly body: Buffer
}

function pagesOf(slots: ReadonlyMap<number, Slot>, level: number): Page[] {
  const pages = new Map<number, Map<number, Slot>>()
  for (const [number, slot] of slots) {
    const page = pageOf(level, number * level)
    const own = pages.get(page) ?? new Map<number, Slot>()
    pages.set(page, own.set(number, slot))
  }
  return Array.from(pages, ([page, own]) => ({ level, page, body: Buffer.from(writeSlots(own, level)) }))
}

/** The pages of a signal over a span up to the end: of five minutes and more; finer ones for the last days only. */
function makePages(span: number, withFine: boolean): Page[] {
  const [minute, five, ...rest] = levels
  const slots = new Map<number, Slot>()
  for (let start = end - span; start < end; start += five)
    slots.set(start / five, { bucket: bucketAt(start), voids: 0 })
  const pages = pagesOf(slots, five)
  for (const level of rest) pages.push(...pagesOf(coarser(slots, level / five), level))
  if (!withFine) return pages
  const fine = new Map<number, Slot>()
  for (let start = end - 2 * day; start < end; start += minute)
    fine.set(start / minute, {
      bucket: {
        ...bucketAt(start),
        count: 60,
        lastAt: start + 59_000,
        highestAt: start + 30_000,
        lowestAt: start + 7000,
      },
      voids: 0,
    })
  pages.push(...pagesOf(fine, minute))
  for (let start = end - 2 * day; start < end; start += hour) {
    const readings = Array.from({ length: 3600 }, (_, n) => ({
      at: start + n * second,
      receivedAt: start + n * second + 20 + (n % 5),
      value: Math.round(2150 + 40 * Math.sin(n / 300) + ((n * 7919) % 5)) / 100,
      quality: 0,
    }))
    pages.push({ level: 0, page: start / hour, body: Buffer.from(writeReadings(readings)) })
  }
  return pages
}

async function fill(client: pg.Client): Promise<void> {
  await client.query(`insert into site (name, time_zone) values ('Bench', 'UTC')`)
  await client.query('insert into kit default values')
  await client.query(
    `insert into device (site_id, kit_id, name, address, secret_hash) values (1, 1, 'd', 'd', '')`,
  )
  await client.query(
    `insert into signal_definition (kit_id, field, name, kind, state) select 1, '/' || n, n, 'number', 'accepted' from generate_series(1, ${signals}) n`,
  )
  await client.query(
    'insert into signal (device_id, definition_id) select 1, id from signal_definition order by id',
  )
  const write = async (pages: readonly Page[], first: number, last: number) => {
    for (let from = 0; from < pages.length; from += 200) {
      const some = pages.slice(from, from + 200)
      // Page by page for all signals, as they come to be.
      await client.query(
        `insert into rollup_page (signal_id, level, page, body)
         select signal_id, level, page, body from unnest($1::int[], $2::int[], $3::bytea[]) as made (level, page, body),
           generate_series($4::int, $5::int) as signal_id`,
        [
          some.map(({ level }) => level),
          some.map(({ page }) => page),
          some.map(({ body }) => body),
          first,
          last,
        ],
      )
    }
  }
  await write(makePages(5 * 365 * day, true), 1, long)
  await write(makePages(30 * day, false), long + 1, signals)
  // The same buckets as rows, for the floor: as many as the widest query reads, of all signals in turn.
  await client.query(`create table bucket_row (signal_id int not null, at timestamptz not null, count int not null, mean float8 not null, m2 float8 not null,
    first float8 not null, first_at timestamptz not null, last float8 not null, last_at timestamptz not null, lowest float8 not null,
    lowest_at timestamptz not null, highest float8 not null, highest_at timestamptz not null)`)
  await client.query(`insert into bucket_row select signal, to_timestamp(n * 14400), 300, 21.5 + n % 7, 2, 21, to_timestamp(n * 14400), 22, to_timestamp(n * 14400 + 299), 20,
    to_timestamp(n * 14400 + 61), 23, to_timestamp(n * 14400 + 177) from generate_series(1, 11000) n, generate_series(1, 40) signal`)
  await client.query('create unique index on bucket_row (signal_id, at)')
  await client.query('vacuum analyze')
}

const ms = (values: readonly number[]) =>
  `p50 ${median(values).toFixed(1)} ms, p95 ${quantile(values, 0.95).toFixed(1)} ms`

/** Charts of any span, from pages, against a bare select of as many rows as there are buckets in them. */
export async function chart(databaseUrl: string): Promise<string[]> {
  await migrateDatabase(databaseUrl)
  const client = new pg.Client({ connectionString: databaseUrl })
  await client.connect()
  await fill(client)
  const database = openDatabase(databaseUrl, pino({ level: 'silent' }))
  const history = new HistoryReader(database.$client)
  const traces = new TraceReader(history)
  const ask = async (span: number, count: number, round: number): Promise<number> => {
    const asked = Array.from({ length: count }, (_, n) => ({
      signal: ((round + n) % long) + 1,
      calibrations: [],
      kind: 'number' as const,
    }))
    // Not twice the same span.
    const to = end - (round % 7) * 1000 * (span / day)
    const before = performance.now()
    const found = await traces.read(asked, { from: to - span, to }, columns)
    const took = performance.now() - before
    if (found.some(({ points }) => points.length < 500)) throw new Error('a chart had hardly a point')
    return took
  }
  const select = async (rows: number, round: number): Promise<number> => {
    const before = performance.now()
    const { rowCount } = await client.query({
      name: 'floor',
      text: 'select * from bucket_row where signal_id = $1 order by at limit $2',
      values: [(round % 40) + 1, rows],
    })
    if (rowCount !== rows) throw new Error(`the floor has ${rowCount} rows, not ${rows}`)
    return performance.now() - before
  }
  const lines: string[] = []
  const p50: Record<string, number> = {}
  const bucketsOf: Record<string, number> = {
    'a day': 1440,
    '30 days': 2880,
    'a year': 2190,
    'five years': 1825,
  }
  for (const [name, span] of spans) {
    // Nothing of it is in the database's own memory: something larger went through it.
    await client.query('select sum(length(body)), count(*) from rollup_page')
    const cold = await ask(span, 1, 0)
    const warm: number[] = []
    const floor: number[] = []
    for (let round = 1; round <= rounds; round++) {
      warm.push(await ask(span, 1, round))
      const buckets = bucketsOf[name]
      if (buckets) floor.push(await select(buckets, round))
    }
    p50[name] = median(warm)
    const ratio =
      floor.length > 0
        ? `, ${(median(warm) / median(floor)).toFixed(2)} of a bare select of as many bucket rows (${median(floor).toFixed(1)} ms)`
        : ''
    lines.push(
      `| one chart of ${columns.toLocaleString('en')} columns, ${name} of a signal at 1 s among ${signals} | ${ms(warm)}, the first time ${cold.toFixed(1)} ms${ratio} | ${floor.length > 0 ? 'goal ≤ 0.3' : ''} |`,
    )
  }
  lines.push(
    `| … five years against 30 days | ratio ${((p50['five years'] ?? 0) / (p50['30 days'] ?? 1)).toFixed(2)} | goal ≤ 1.3 |`,
  )
  const twelve: number[] = []
  for (let round = 0; round < 10; round++) twelve.push(await ask(5 * 365 * day, 12, round))
  lines.push(
    `| … twelve signals at once over five years, against one | ${ms(twelve)}, ratio ${(median(twelve) / (p50['five years'] ?? 1)).toFixed(1)} | goal ≤ 16 |`,
  )
  await database.$client.end()
  await client.end()
  return lines
}
