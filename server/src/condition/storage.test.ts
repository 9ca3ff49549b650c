import { execFileSync } from 'node:child_process'
import { tmpdir } from 'node:os'
import { routes } from '@jaunty-sparrow/contract'
import pg from 'pg'
import { startServer } from '../server.ts'
import { emptyDatabase, TestPerson, testConfig } from '../testing/serverUnderTest.ts'

const mebibyte = 1024 * 1024

it('tells the room that the database takes, and what df says is left where it lies', async () => {
  const databaseUrl = await emptyDatabase()
  const config = { ...testConfig(databaseUrl), databaseFolder: tmpdir(), messageDays: 3 }
  const server = await startServer(config, { webRoot: undefined, now: Date.now })
  const owner = new TestPerson(server.url)
  await owner.becomeOwner(server.firstRunToken)
  const { body } = await owner.call(routes.getCondition)
  const left = Number(
    execFileSync('df', ['--output=avail', '-B1', tmpdir()], { encoding: 'utf8' }).split('\n')[1],
  )
  expect(body.storage.messageDays).toBe(3)
  // Others write to the same disk meanwhile.
  expect(Math.abs((body.storage.freeBytes ?? 0) - left)).toBeLessThan(512 * mebibyte)
  const before = body.storage.databaseBytes
  const client = new pg.Client({ connectionString: databaseUrl })
  await client.connect()
  await client.query(`create table heavy as select repeat('x', 1000) as x from generate_series(1, 20000)`)
  await client.end()
  const after = (await owner.call(routes.getCondition)).body.storage.databaseBytes
  expect(after - before).toBeGreaterThan(20 * mebibyte)
  await server.close()
})
