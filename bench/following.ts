import pg from 'pg'
import { requestsPerSecond } from './ingest.ts'
import { median } from './median.ts'
import { startSparrow } from './server.ts'

const rounds = 5

/** Keeps everything that follows a commit from being done, by holding what elects who does it, and from being marked. */
async function holdBack(client: pg.Client): Promise<() => Promise<void>> {
  await client.query(
    `create or replace function no_mark() returns trigger language plpgsql as $$ begin return null; end $$`,
  )
  await client.query(
    'create trigger no_mark before insert on after_commit for each row execute function no_mark()',
  )
  await client.query('begin')
  await client.query('select 1 from consumer for update')
  await client.query('select pg_advisory_xact_lock(7600009)')
  return async () => {
    await client.query('commit')
    await client.query('drop trigger no_mark on after_commit')
  }
}

/** Measured now, as boards do that are on line; each of the ten at no instant twice. */
const lately = new Map<number, number>()
function justNow(n: number): number {
  const board = n % 10
  const at = Math.max(Date.now(), (lately.get(board) ?? 0) + 1)
  lately.set(board, at)
  return at
}

/** What everything that follows a commit takes of ingest; pages are made once an hour is over. */
export async function following(databaseUrl: string): Promise<string[]> {
  const sparrow = await startSparrow(databaseUrl)
  const tokens: string[] = []
  for (let n = 0; n < 10; n++)
    tokens.push(await sparrow.owner.createDevice(`board-${n}`, ['a', 'b', 'c', 'd', 'e', 'f']))
  const client = new pg.Client({ connectionString: databaseUrl })
  await client.connect()
  await requestsPerSecond(sparrow.url, tokens, justNow)
  const shares: number[] = []
  for (let round = 0; round < rounds; round++) {
    const release = await holdBack(client)
    const without = await requestsPerSecond(sparrow.url, tokens, justNow)
    await release()
    const withAll = await requestsPerSecond(sparrow.url, tokens, justNow)
    shares.push(1 - withAll / without)
  }
  await client.end()
  await sparrow.stop()
  return [
    `| what follows a commit, marks included: its share of durable ingest over HTTP | ${(median(shares) * 100).toFixed(0)} % (${shares.map((share) => `${(share * 100).toFixed(0)}`).join(', ')}) | goal ≤ 15 % |`,
  ]
}
