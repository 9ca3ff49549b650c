// npm run sign-in-link -- NAME: for somebody who has lost the password, when nobody else can help.
import { createHash, randomBytes } from 'node:crypto'
import { homeFolder, main } from './application.mjs'
import { prepare, SetUpError } from './prepare.mjs'
import { privateDatabase } from './privateDatabase.mjs'

const day = 86_400_000

await main(async () => {
  const [name] = process.argv.slice(2)
  if (!name) throw new SetUpError('Say for whom: npm run sign-in-link -- "Their Name"')
  await prepare({ postgresql: !process.env.DATABASE_URL })
  const { url, stop } = await privateDatabase(homeFolder('main'))
  try {
    const { default: pg } = await import('pg')
    const client = new pg.Client({ connectionString: url })
    await client.connect()
    const token = randomBytes(24).toString('base64url')
    const { rowCount } = await client.query(
      `insert into sign_in_link (token_hash, person_id, expires_at) select $1, id, $2 from person where name = $3`,
      [createHash('sha256').update(token).digest(), new Date(Date.now() + day), name],
    )
    const { rows } = await client.query('select name from person order by name')
    await client.end()
    if (rowCount === 0)
      throw new SetUpError(
        `There is nobody called "${name}" here${rows.length > 0 ? `, but ${rows.map((row) => row.name).join(', ')}` : ' yet'}.`,
      )
    const origin = process.env.PUBLIC_URL ?? `http://127.0.0.1:${process.env.PORT ?? 7600}`
    console.log(`\nIt signs ${name} in, once, within a day: ${origin}/sign-in/link#${token}`)
  } finally {
    stop()
  }
})
