// npm run restore -- FOLDER: brings a backup back, into a database of its own that takes the place of the other when it is whole.
import { cpSync, existsSync, mkdirSync, readFileSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { homeFolder, main } from './application.mjs'
import { authorityFolder } from './authorityFolder.mjs'
import { ensureDatabase, startCluster } from './cluster.mjs'
import { databaseContents } from './databaseContents.mjs'
import { lockHolder } from './lock.mjs'
import { runTool } from './postgresTools.mjs'
import { prepare, root, SetUpError } from './prepare.mjs'

await main(async () => {
  const [stated] = process.argv.slice(2)
  if (!stated) throw new SetUpError('Name the folder of the backup: npm run restore -- FOLDER')
  const folder = resolve(stated)
  const expected = readContents(folder)
  await prepare({ postgresql: !process.env.DATABASE_URL })
  const home = homeFolder('main')
  const running = lockHolder(join(home, 'running'))
  if (running !== undefined && !process.env.DATABASE_URL)
    throw new SetUpError(`The server runs, as process ${running}; stop it first.`)
  mkdirSync(home, { recursive: true })
  const { url, stop } = await target(home)
  try {
    await restore(url, folder, expected)
  } finally {
    stop()
  }
  const authority = join(folder, 'authority')
  if (existsSync(authority)) cpSync(authority, authorityFolder(home), { recursive: true })
  console.log('\nThe backup was brought back, compared, and has taken its place. Start the server again.')
})

function readContents(folder) {
  try {
    return JSON.parse(readFileSync(join(folder, 'contents.json'), 'utf8'))
  } catch (error) {
    throw new SetUpError(`${folder} holds no backup: ${error.message}`)
  }
}

/** Where it goes to: the database that was stated, or that of the private cluster. */
async function target(home) {
  if (process.env.DATABASE_URL) return { url: process.env.DATABASE_URL, stop: () => undefined }
  const cluster = await startCluster(home)
  await ensureDatabase(cluster, 'sparrow')
  return { url: cluster.url('sparrow'), stop: cluster.wasRunning ? () => undefined : cluster.stop }
}

async function restore(url, folder, expected) {
  const { default: pg } = await import('pg')
  const name = decodeURIComponent(new URL(url).pathname.slice(1))
  const stamp = new Date().toISOString().slice(0, 19).replaceAll(/[-:T]/g, '')
  const [fresh, former] = [`${name}_restored_${stamp}`, `${name}_before_${stamp}`]
  const at = (database) => Object.assign(new URL(url), { pathname: `/${database}` }).href
  const admin = new pg.Client({ connectionString: at('postgres') })
  await admin.connect()
  const quoted = (database) => admin.escapeIdentifier(database)
  try {
    await refuseWhileUsed(admin, name)
    await admin.query(`create database ${quoted(fresh)} template template0`)
    try {
      await runTool('pg_restore', at(fresh), [
        ...['--no-owner', '--no-privileges', '--exit-on-error', '-j', '2', '-d', fresh],
        join(folder, 'database.dump'),
      ])
      await compare(at(fresh), expected)
    } catch (error) {
      await admin.query(`drop database ${quoted(fresh)}`)
      throw error
    }
    await refuseWhileUsed(admin, name)
    await admin.query(`alter database ${quoted(name)} rename to ${quoted(former)}`)
    await admin.query(`alter database ${quoted(fresh)} rename to ${quoted(name)}`)
    console.log(
      `What was there before is kept as the database ${former}; drop it when you do not want it any more.`,
    )
  } finally {
    await admin.end()
  }
}

async function refuseWhileUsed(admin, name) {
  const { rows } = await admin.query(
    'select count(*)::int as users from pg_stat_activity where datname = $1',
    [name],
  )
  if (rows[0].users > 0)
    throw new SetUpError(`The database ${name} is in use; stop every server that uses it first.`)
}

/** Nothing takes the place of anything before it is seen to be whole, and of a kind that this program knows. */
async function compare(url, expected) {
  const { default: pg } = await import('pg')
  const client = new pg.Client({ connectionString: url })
  await client.connect()
  try {
    await client.query(`set timezone = 'UTC'`)
    const journal = JSON.parse(readFileSync(join(root, 'server/migrations/meta/_journal.json'), 'utf8'))
    const { rows } = await client.query(
      'select max(created_at)::text as newest from drizzle.__drizzle_migrations',
    )
    if (Number(rows[0].newest) > journal.entries.at(-1).when)
      throw new SetUpError('The backup is of a newer version of this program; update the program first.')
    const found = await databaseContents(client)
    const differing = Object.keys({ ...expected, ...found }).filter(
      (table) => expected[table]?.rows !== found[table]?.rows || expected[table]?.sum !== found[table]?.sum,
    )
    if (differing.length > 0)
      throw new SetUpError(`What came back differs from what was backed up, in ${differing.join(', ')}.`)
  } finally {
    await client.end()
  }
}
