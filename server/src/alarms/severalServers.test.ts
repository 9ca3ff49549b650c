import { once } from 'node:events'
import { routes } from '@jaunty-sparrow/contract'
import { type Alarm, untoldAlarm } from '@jaunty-sparrow/core/signal'
import pg from 'pg'
import { emptyDatabase, send, TestPerson } from '../testing/serverUnderTest.ts'
import { type SpawnedServer, spawnServer } from '../testing/spawnedServer.ts'

const alarm: Alarm = {
  ...untoldAlarm,
  key: 'high',
  occasion: { by: 'limit', limit: 'high' },
  priority: 'urgent',
}
const limits = { lowLow: null, low: null, high: 50, highHigh: null, deadband: 0, onDelay: 0, offDelay: 0 }
const servers: SpawnedServer[] = []
const clients: pg.Client[] = []
afterEach(async () => {
  for (const client of clients.splice(0)) await client.end()
  for (const { process } of servers.splice(0)) {
    const ended = once(process, 'exit')
    process.kill('SIGKILL')
    await ended
  }
})

/** Starts a server, and remembers to end it. */
async function start(databaseUrl: string): Promise<SpawnedServer> {
  const server = await spawnServer(databaseUrl)
  servers.push(server)
  return server
}
async function kill(server: SpawnedServer): Promise<void> {
  servers.splice(servers.indexOf(server), 1)
  const ended = once(server.process, 'exit')
  server.process.kill('SIGKILL')
  await ended
}
/** The same person at another server. */
function at({ url }: SpawnedServer, { cookie, csrfToken }: TestPerson): TestPerson {
  const person = new TestPerson(url)
  person.cookie = cookie
  person.csrfToken = csrfToken
  return person
}

it('is raised once however many servers there are, and whichever is killed when', async () => {
  const databaseUrl = await emptyDatabase()
  const first = await start(databaseUrl)
  const owner = new TestPerson(first.url)
  await owner.becomeOwner(first.firstRunToken)
  const { body: kit } = await owner.call(routes.createKit, {
    body: {
      name: 'Vat',
      cadence: { by: 'event' },
      signals: [{ field: '/warm', name: 'Milk', kind: 'number', limits, alarms: [alarm] }],
    },
  })
  const { address, token } = await owner.createDevice('vat', kit.id)
  const id = `${(await owner.device(address)).signals[0]?.id}.high`
  const client = new pg.Client({ connectionString: databaseUrl })
  await client.connect()
  clients.push(client)
  const moves = async () =>
    (
      await client.query<{ move: string }>('select move from alarm_act where alarm_id = $1 order by id', [id])
    ).rows.map(({ move }) => move)
  await send(first.url, token, { warm: 40 })
  await send(first.url, token, { warm: 60 })
  await owner.until(moves, (found) => found.length === 1)

  // Two of them at once: each takes in what it is sent, and one of them judges.
  const second = await start(databaseUrl)
  await send(second.url, token, { warm: 40 })
  await send(first.url, token, { warm: 60 })
  await send(second.url, token, { warm: 40 })
  await at(second, owner).until(moves, (found) => found.length === 4)
  // What is committed and not judged yet is judged by whoever is left.
  await send(first.url, token, { warm: 60 })
  await kill(first)
  await at(second, owner).until(moves, (found) => found.length === 5)
  await send(second.url, token, { warm: 40 })
  await kill(second)
  const third = await start(databaseUrl)
  await at(third, owner).until(moves, (found) => found.length === 6)
  expect(await moves()).toEqual(['raise', 'return', 'raise', 'return', 'raise', 'return'])
  // How it stands outlived all of them.
  const { body } = await at(third, owner).call(routes.getAlarm, { params: { alarmId: id } })
  expect(body.state).toBe('returned')
}, 120_000)
