import pg from 'pg'
import { requestsPerSecond } from './ingest.ts'
import { median, whole } from './median.ts'
import { startSparrow } from './server.ts'

const imported = 10_000_000

/** How what follows a commit catches up with ten million readings that are there at once, while others come in. */
export async function catchUp(databaseUrl: string): Promise<string[]> {
  const sparrow = await startSparrow(databaseUrl)
  const tokens: string[] = []
  for (let n = 0; n < 10; n++)
    tokens.push(await sparrow.owner.createDevice(`board-${n}`, ['a', 'b', 'c', 'd', 'e', 'f']))
  const client = new pg.Client({ connectionString: databaseUrl })
  await client.connect()
  const signals = 100
  for (let n = 0; n < 10; n++)
    await sparrow.owner.createDevice(
      `old-${n}`,
      Array.from({ length: 10 }, (_, i) => `s${i}`),
    )
  const first = `timestamptz '2025-03-01Z'`
  await client.query(
    `create table reading_2025_03 partition of reading for values from ('2025-03-01Z') to ('2025-04-01Z')`,
  )
  const each = imported / signals
  // In pieces of a second or so, as a file is brought.
  for (let piece = 0; piece < 50; piece++)
    await client.query(
      `with stored as (
         insert into reading (signal_id, at, received_at, value, quality)
         select id, ${first} + n * interval '10 seconds', now(), 20 + sin(n / 50.0), 0
         from generate_series(${(piece * each) / 50}, ${((piece + 1) * each) / 50 - 1}) n, (select id from signal order by id desc limit ${signals}) as lately
         returning 1)
       insert into after_commit (kind, signals, from_at, to_at)
       select 3, array_agg(id), array_agg(${first} + ${(piece * each) / 50} * interval '10 seconds'), array_agg(${first} + ${((piece + 1) * each) / 50 - 1} * interval '10 seconds')
       from (select id from signal order by id desc limit ${signals}) as lately`,
    )
  const began = performance.now()
  let resident = 0
  const meanwhile: number[] = []
  const waiting = async () =>
    (
      await client.query<{ n: number }>(
        `select count(*)::int as n from due_page where page < extract(epoch from timestamptz '2025-04-01Z') / 3600`,
      )
    ).rows[0]?.n ?? 0
  // Until pages are being made, which is when they have rested, and then until none is due.
  let most = 0
  for (let left = await waiting(); left === 0 || left >= most; left = await waiting()) {
    most = Math.max(most, left)
    await new Promise((done) => setTimeout(done, 500))
  }
  for (let round = 0; round < 3; round++) {
    meanwhile.push(await requestsPerSecond(sparrow.url, tokens))
    resident = Math.max(resident, sparrow.residentBytes())
  }
  if ((await waiting()) === 0) throw new Error('it had caught up before ingest beside it was measured')
  while ((await waiting()) > 0) {
    resident = Math.max(resident, sparrow.residentBytes())
    await new Promise((done) => setTimeout(done, 500))
  }
  const took = (performance.now() - began) / 1000
  await client.end()
  const afterwards: number[] = []
  for (let round = 0; round < 5; round++) afterwards.push(await requestsPerSecond(sparrow.url, tokens))
  await sparrow.stop()
  return [
    `| catching up with ${whole(imported)} readings that were brought at once | ${took.toFixed(0)} s, the server at most ${whole(resident / 1024 / 1024)} MiB | |`,
    `| … ingest meanwhile against ingest afterwards | ratio ${(median(meanwhile) / median(afterwards)).toFixed(2)} | not noticeably slower |`,
  ]
}
