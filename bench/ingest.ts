import autocannon from 'autocannon'
import pg from 'pg'
import { median, whole } from './median.ts'
import { startProcess, startSparrow } from './server.ts'

const rounds = 5
const seconds = 4
const connections = 50
const fields = ['a', 'b', 'c', 'd', 'e', 'f']
const devices = 10

/** Requests a second, each with six readings measured at an instant of its own, epoch ms. */
export async function requestsPerSecond(
  url: string,
  tokens: readonly string[],
  instant: (n: number) => number = nextInstant,
): Promise<number> {
  let n = 0
  const result = await autocannon({
    url: `${url}/in`,
    connections,
    duration: seconds,
    requests: [
      {
        method: 'POST',
        setupRequest: (request) => {
          n++
          const body = JSON.stringify({ t: instant(n), a: n, b: 21.53, c: 48.2, d: 1013.25, e: n / 7, f: 0 })
          const authorization = `Bearer ${tokens[n % tokens.length]}`
          return { ...request, headers: { 'content-type': 'application/json', authorization }, body }
        },
      },
    ],
  })
  if (result.non2xx > 0 || result.errors > 0)
    throw new Error(`${result.non2xx} answers were no success, ${result.errors} failed`)
  return result['2xx'] / result.duration
}

/** No two requests of a run are measured at the same instant. */
let origin = Date.now() - 20 * 86_400_000

function nextInstant(): number {
  origin += 1
  return origin
}

/** Rows a second, written by one loop that does nothing else. */
async function rowsPerSecond(client: pg.Client, batch: number): Promise<number> {
  const end = performance.now() + seconds * 1000
  const start = performance.now()
  let rows = 0
  while (performance.now() < end) {
    origin += 1
    const column = (value: (i: number) => number) =>
      `{${Array.from({ length: batch }, (_, i) => value(i)).join()}}`
    await client.query({
      name: 'floor',
      text: `insert into reading (signal_id, at, received_at, value, quality)
        select s, to_timestamp(a / 1000), to_timestamp(r / 1000), v, q
        from unnest($1::int[], $2::float8[], $3::float8[], $4::float8[], $5::smallint[]) as batch (s, a, r, v, q)`,
      values: [
        column((i) => 1_000_000 + i),
        column(() => origin),
        column(() => origin),
        column((i) => i / 7),
        column(() => 0),
      ],
    })
    rows += batch
  }
  return rows / ((performance.now() - start) / 1000)
}

/** Durable HTTP ingest against its floors, interleaved so that a slow minute of the machine hits all alike. */
export async function ingest(databaseUrl: string): Promise<string[]> {
  const sparrow = await startSparrow(databaseUrl)
  const tokens: string[] = []
  for (let n = 0; n < devices; n++) tokens.push(await sparrow.owner.createDevice(`board-${n}`, fields))
  const express = await startProcess('./bareExpress.ts')
  const http = await startProcess('./bareHttp.ts')
  const client = new pg.Client({ connectionString: databaseUrl })
  await client.connect()

  const results: Record<'sparrow' | 'express' | 'http' | 'rows', number[]> = {
    sparrow: [],
    express: [],
    http: [],
    rows: [],
  }
  for (let round = 0; round <= rounds; round++) {
    const measured = {
      sparrow: await requestsPerSecond(sparrow.url, tokens),
      express: await requestsPerSecond(express.url, tokens),
      http: await requestsPerSecond(http.url, tokens),
      rows: await rowsPerSecond(client, 300),
    }
    // The first round warms everything up.
    if (round > 0)
      for (const key of Object.keys(measured) as (keyof typeof measured)[]) results[key].push(measured[key])
  }
  await client.end()
  await Promise.all([sparrow.stop(), express.stop(), http.stop()])

  const ratio = (over: readonly number[], factor = 1) =>
    median(results.sparrow.map((value, i) => (value * factor) / (over[i] ?? 1)))
  return [
    `| durable ingest over HTTP, 6 readings a request, ${connections} connections | ${whole(median(results.sparrow))} requests/s = ${whole(median(results.sparrow) * 6)} readings/s | |`,
    `| … against a bare Express handler with its JSON parser (${whole(median(results.express))} requests/s) | ratio ${ratio(results.express).toFixed(2)} | goal ≥ 1.1 |`,
    `| … against a bare node:http handler with JSON.parse (${whole(median(results.http))} requests/s) | ratio ${ratio(results.http).toFixed(2)} | goal ≥ 0.4 |`,
    `| … against one loop of \`insert … select unnest\`, 300 rows each (${whole(median(results.rows))} rows/s) | ratio ${ratio(results.rows, 6).toFixed(2)} | |`,
  ]
}
