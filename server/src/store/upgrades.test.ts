import { cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { routes } from '@jaunty-sparrow/contract'
import { drizzle } from 'drizzle-orm/node-postgres'
import { migrate } from 'drizzle-orm/node-postgres/migrator'
import pg from 'pg'
import { hashPassword } from '../people/password.ts'
import { startServer } from '../server.ts'
import { emptyDatabase, send, TestPerson, testConfig } from '../testing/serverUnderTest.ts'
import { migrateDatabase, refuseOldServer } from './database.ts'

const migrations = fileURLToPath(new URL('../../migrations', import.meta.url))
interface Journal {
  entries: { idx: number; tag: string }[]
}
const journal: Journal = JSON.parse(readFileSync(join(migrations, 'meta/_journal.json'), 'utf8'))
const earlier = journal.entries.slice(0, -1).map(({ tag }) => tag)

/** Brings an empty database to where a program stood that knew the migrations up to this one. */
async function upTo(url: string, tag: string): Promise<pg.Client> {
  const folder = mkdtempSync(join(tmpdir(), 'sparrow-migrations-'))
  cpSync(migrations, folder, { recursive: true })
  const entries = journal.entries.slice(0, earlier.indexOf(tag) + 1)
  writeFileSync(join(folder, 'meta/_journal.json'), JSON.stringify({ ...journal, entries }))
  const client = new pg.Client({ connectionString: url })
  await client.connect()
  await migrate(drizzle(client), { migrationsFolder: folder })
  rmSync(folder, { recursive: true })
  return client
}

const secret = 'upgrade'
const password = 'a gate, a goat, a bell'
const at = '2026-11-20T12:00:00Z'

/** What such a program had written. */
async function fill(client: pg.Client, tag: string): Promise<void> {
  const tags = journal.entries.map((entry) => entry.tag)
  const knows = (other: string) => tags.indexOf(tag) >= tags.indexOf(other)
  const hasSettings = knows('0008_every_kind_of_signal')
  await client.query(
    knows('0014_roles_by_site')
      ? `with made as (insert into person (name, password_hash) values ('Ines Marlow', $1) returning id)
         insert into membership (person_id, role) select id, 'owner' from made`
      : `insert into person (name, password_hash, role) values ('Ines Marlow', $1, 'owner')`,
    [await hashPassword(password)],
  )
  await client.query(`insert into site (name, time_zone) values ('Dairy', 'Europe/Dublin')`)
  await client.query(
    hasSettings
      ? `insert into kit (name, cadence) values ('Vat', '{"by": "always", "seconds": 30}')`
      : `insert into kit (name, cadence_seconds) values ('Vat', 30)`,
  )
  await client.query(
    `insert into device (site_id, kit_id, name, address, secret_hash)
     values (1, 1, 'Milk vat', 'milk-vat', sha256($1::bytea))`,
    [Buffer.from(secret)],
  )
  await client.query(
    hasSettings
      ? `insert into signal_definition (kit_id, field, name, kind, state, settings) values
           (1, '/top', 'Top', 'number', 'accepted', '{"unit": "Cel", "range": {"low": -10, "high": 110}}'),
           (1, '/lid', 'Lid', 'switch', 'suggested', '{}')`
      : `insert into signal_definition (kit_id, field, name, kind, state, unit, range_low, range_high) values
           (1, '/top', 'Top', 'number', 'accepted', 'Cel', -10, 110), (1, '/lid', 'Lid', 'switch', 'suggested', null, null, null)`,
  )
  await client.query('insert into signal (device_id, definition_id) values (1, 1), (1, 2)')
  if (hasSettings && !knows('0016_formulas'))
    await client.query(`
      update signal_definition set settings = settings || '{"conversion": {"factor": 0.5, "offset": -3}}' where id = 1`)
  await client.query(
    `create table if not exists reading_2026_11 partition of reading for values from ('2026-11-01Z') to ('2026-12-01Z')`,
  )
  await client.query(
    `insert into reading (signal_id, at, received_at, value, quality) values (1, $1, $1, 6.4, 0)`,
    [at],
  )
  if (knows('0009_any_span'))
    await client.query(
      `insert into after_commit (kind, signals, from_at, to_at) values (0, '{1}', array[$1::timestamptz], array[$1::timestamptz])`,
      [at],
    )
  if (!knows('0001_messages')) return
  await client.query(
    `create table if not exists message_2026_11_20 partition of message for values from ('2026-11-20Z') to ('2026-11-21Z')`,
  )
  await client.query(
    `insert into message (id, received_at, door, device_id, sender, media_type, tail, body, outcome, stored, reason)
     values (1, $1, 'file', 1, 'milk-vat', 'text/csv', '', 'top', 'stored', 1, '')`,
    [at],
  )
}

it.each(earlier)('a database of %s comes up with what is in it', async (tag) => {
  const databaseUrl = await emptyDatabase()
  const client = await upTo(databaseUrl, tag)
  await fill(client, tag)
  await client.end()
  const now = () => Date.parse(at) + 60_000
  const server = await startServer(testConfig(databaseUrl), { webRoot: undefined, now })
  // Whoever was the owner is that of all sites.
  expect(server.firstRunToken).toBeUndefined()
  const owner = new TestPerson(server.url)
  await owner.call(routes.signIn, { body: { name: 'Ines Marlow', password } })
  const { body: session } = await owner.call(routes.getSession)
  expect(session).toMatchObject({ person: { access: { everywhere: 'owner', sites: [] } } })
  const [top, lid] = (await owner.device('milk-vat')).signals
  expect(top).toMatchObject({
    name: 'Top',
    state: 'accepted',
    unit: 'Cel',
    range: { low: -10, high: 110 },
    storing: { by: 'every' },
    origin: 'measured',
    latest: { at: Date.parse(at), value: 6.4 },
  })
  expect(lid).toMatchObject({ kind: 'switch', state: 'suggested', latest: null })
  expect((await owner.device('milk-vat')).cadence).toEqual({
    cadence: { by: 'always', seconds: 30 },
    source: 'stated',
  })
  const long = {
    signals: String(top?.id),
    from: Date.parse(at) - 86_400_000,
    to: Date.parse(at) + 86_400_000,
    columns: 10,
  }
  expect((await owner.call(routes.getTraces, { query: long })).body[0]?.points).toEqual([
    [Date.parse(at), 6.4],
  ])
  // What was a factor and an offset is a formula that makes the same.
  const isConverted = top?.conversion != null
  if (isConverted) expect(top?.conversion).toBe('x * 0.5 + -3')
  const sent = { top: isConverted ? 20 : 7, lid: true }
  expect((await send(server.url, `milk-vat.${secret}`, sent)).status).toBe(204)
  expect((await owner.device('milk-vat')).signals.map(({ latest }) => latest?.value)).toEqual([7, 1])
  await server.close()
})

it('a database of a newer program is refused in words, and stays as it is', async () => {
  const databaseUrl = await emptyDatabase()
  await migrateDatabase(databaseUrl)
  const client = new pg.Client({ connectionString: databaseUrl })
  await client.connect()
  await client.query(
    `insert into drizzle.__drizzle_migrations (hash, created_at)
     select 'of the future', max(created_at) + 1 from drizzle.__drizzle_migrations`,
  )
  const start = startServer(testConfig(databaseUrl), { webRoot: undefined, now: Date.now })
  await expect(start).rejects.toThrow(/written by a newer version of this program/)
  await client.end()
})

it('an older PostgreSQL is refused in words', () => {
  expect(() => refuseOldServer(140_012)).toThrow('PostgreSQL 14 is too old')
  expect(() => refuseOldServer(150_018)).not.toThrow()
  expect(() => refuseOldServer(170_002)).not.toThrow()
})
