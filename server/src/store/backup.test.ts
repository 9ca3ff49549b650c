import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import pg from 'pg'
import { pino } from 'pino'
import { startCluster } from '../../../launch/cluster.mjs'
import { type Consumer, Consumers } from '../afterCommit/consumers.ts'
import { committedBetween } from '../afterCommit/snapshots.ts'
import { LargeChanges } from '../readings/largeChanges.ts'
import { ReadingChanges } from '../readings/readingChanges.ts'
import { ReadingPartitions } from '../readings/readingPartitions.ts'
import { run } from '../testing/run.ts'
import { emptyDatabase } from '../testing/serverUnderTest.ts'
import { migrateDatabase, openDatabase } from './database.ts'

const log = pino({ level: 'silent' })
const start = Date.UTC(2026, 9, 25)

const command = (name: string, args: readonly string[], env: NodeJS.ProcessEnv) =>
  run(process.execPath, [fileURLToPath(new URL(`../../../launch/${name}.mjs`, import.meta.url)), ...args], {
    env: { ...process.env, NODE_OPTIONS: '', DATABASE_URL: '', ...env },
  })

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

/** A program on a database: it stores, and follows what was stored. */
async function program(url: string) {
  const database = openDatabase(url, log)
  const { $client } = database
  const partitions = new ReadingPartitions($client)
  await partitions.prepare(start)
  const changes = new ReadingChanges(database, partitions, new LargeChanges(database, log))
  const consumers = await Consumers.open({ pool: $client, log, consumers: [ledger] })
  let stored = 0
  return {
    follow: () => consumers.run(),
    store: async (batches: number, from: number) => {
      for (let n = 0; n < batches; n++) {
        const at = start + (from + stored++) * 1000
        await changes.append([{ signal: 1, at, receivedAt: at, value: n, quality: 0 }], [])
      }
    },
    end: () => $client.end(),
  }
}

const query = async (url: string, text: string) => {
  const client = new pg.Client({ connectionString: url })
  await client.connect()
  const { rows } = await client.query(text)
  await client.end()
  return rows
}

describe('a backup', () => {
  let url: string
  let folder: string
  beforeAll(async () => {
    url = await emptyDatabase()
    await migrateDatabase(url)
    await query(url, 'create table ledger (id bigint not null)')
    // A cluster that has lived for a while: its numbers are higher than those of a new one.
    await query(
      url,
      'do $$ begin for n in 1..3000 loop perform pg_current_xact_id(); commit; end loop; end $$',
    )
    const before = await program(url)
    await before.store(5, 0)
    await before.follow()
    // Stored, and not followed yet when the backup is made.
    await before.store(5, 100)
    await before.end()
    folder = join(mkdtempSync(join(tmpdir(), 'sparrow-backup-')), 'backup')
    const made = await command('backup', [folder], { DATABASE_URL: url })
    expect(made).toMatchObject({ code: 0 })
  }, 60_000)

  it('is brought back into a new cluster, whose transactions have lower numbers, and nothing is skipped or done twice', async () => {
    const home = mkdtempSync(join(tmpdir(), 'sparrow-restored-'))
    const brought = await command('restore', [folder], { SPARROW_HOME: home })
    expect(brought).toMatchObject({ code: 0, out: expect.stringMatching(/has taken its place/) })
    const cluster = await startCluster(home)
    try {
      const there = cluster.url('sparrow')
      const number = async (of: string) =>
        Number((await query(of, 'select pg_current_xact_id()::text as xid'))[0].xid)
      expect(await number(there)).toBeLessThan(await number(url))
      const readings = 'select extract(epoch from at) as at, value from reading order by at'
      expect(await query(there, readings)).toEqual(await query(url, readings))
      const after = await program(there)
      await after.store(5, 200)
      await after.follow()
      await after.store(5, 300)
      await after.follow()
      await after.end()

      const heard = (await query(there, 'select id::int from ledger order by id')).map(({ id }) => id)
      expect(heard).toEqual(Array.from({ length: 20 }, (_, n) => n + 1))
    } finally {
      cluster.stop()
    }
  }, 90_000)

  it('takes the place of a database that is there, which is kept', async () => {
    const target = await emptyDatabase()
    await query(target, 'create table only_there (id int)')
    const brought = await command('restore', [folder], { DATABASE_URL: target })
    expect(brought.code).toBe(0)
    expect(await query(target, 'select count(*)::int as n from reading')).toEqual([{ n: 10 }])
    const [, kept] = /kept as the database (\w+)/.exec(brought.out) ?? []
    const former = Object.assign(new URL(target), { pathname: `/${kept}` }).href
    expect(await query(former, 'select count(*)::int as n from only_there')).toEqual([{ n: 0 }])
  }, 60_000)

  it('does not while a server uses that, nor when it is not whole', async () => {
    const target = await emptyDatabase()
    const user = new pg.Client({ connectionString: target })
    await user.connect()
    const used = await command('restore', [folder], { DATABASE_URL: target })
    expect(used.out).toMatch(/is in use; stop every server/)
    await user.end()
    const spoiled = mkdtempSync(join(tmpdir(), 'sparrow-spoiled-'))
    await run('cp', ['-r', `${folder}/.`, spoiled])
    writeFileSync(
      join(spoiled, 'contents.json'),
      JSON.stringify({ 'public.reading': { rows: '11', sum: '0' } }),
    )
    const broken = await command('restore', [spoiled], { DATABASE_URL: target })
    expect(broken.out).toMatch(/differs from what was backed up, in .*public\.reading/)
    const left = `select datname from pg_database where datname like '%restored%'`
    expect(await query(target, left)).toEqual([])
  }, 60_000)
})
