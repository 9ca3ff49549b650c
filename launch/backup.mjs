// npm run backup [-- FOLDER]: everything there is, while the server runs.
import { cpSync, existsSync, mkdirSync, renameSync, rmSync, writeFileSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { homeFolder, main } from './application.mjs'
import { authorityFolder } from './authorityFolder.mjs'
import { databaseContents } from './databaseContents.mjs'
import { runTool } from './postgresTools.mjs'
import { prepare, SetUpError } from './prepare.mjs'
import { privateDatabase } from './privateDatabase.mjs'

await main(async () => {
  await prepare({ postgresql: !process.env.DATABASE_URL })
  const home = homeFolder('main')
  const stamp = new Date().toISOString().slice(0, 19).replaceAll(':', '-')
  const folder = resolve(process.argv[2] ?? join(home, 'backups', stamp))
  if (existsSync(folder)) throw new SetUpError(`${folder} is there already; name another folder.`)
  const making = `${folder}.making`
  rmSync(making, { recursive: true, force: true })
  mkdirSync(making, { recursive: true, mode: 0o700 })
  const { url, stop } = await privateDatabase(home)
  try {
    const { default: pg } = await import('pg')
    const client = new pg.Client({ connectionString: url })
    await client.connect()
    // What is counted and what is written are of one instant, however much comes in meanwhile.
    await client.query('begin isolation level repeatable read')
    await client.query(`set local timezone = 'UTC'`)
    const { rows } = await client.query('select pg_export_snapshot() as snapshot')
    const told = `--snapshot=${rows[0].snapshot}`
    await runTool('pg_dump', url, [
      '-Fc',
      '--no-owner',
      '--no-privileges',
      told,
      '-f',
      join(making, 'database.dump'),
    ])
    const contents = await databaseContents(client)
    await client.query('commit')
    // It is an alarm when this has been long ago.
    await client.query('insert into backup_made (at) values (clock_timestamp())')
    await client.end()
    writeFileSync(join(making, 'contents.json'), JSON.stringify(contents, null, 2))
  } finally {
    stop()
  }
  const authority = authorityFolder(home)
  if (existsSync(authority)) cpSync(authority, join(making, 'authority'), { recursive: true })
  renameSync(making, folder)
  console.log(
    `\nThe backup is ${folder}; npm run restore -- ${folder} brings it back, here or on another machine.`,
  )
})
