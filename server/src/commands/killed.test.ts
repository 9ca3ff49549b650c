import { once } from 'node:events'
import { routes } from '@jaunty-sparrow/contract'
import { emptyDatabase, send, TestPerson } from '../testing/serverUnderTest.ts'
import { type SpawnedServer, spawnServer } from '../testing/spawnedServer.ts'

async function kill({ process }: SpawnedServer): Promise<void> {
  const ended = once(process, 'exit')
  process.kill('SIGKILL')
  await ended
}

/** The same person at a server that was started anew. */
function at(server: SpawnedServer, { cookie }: TestPerson): TestPerson {
  const person = new TestPerson(server.url)
  person.cookie = cookie
  return person
}

it('goes its way whatever server is killed when: nothing is lost, and the device alone confirms it', async () => {
  const databaseUrl = await emptyDatabase()
  const first = await spawnServer(databaseUrl)
  const owner = new TestPerson(first.url)
  await owner.becomeOwner(first.firstRunToken)
  const { body: kit } = await owner.call(routes.createKit, {
    body: {
      name: 'Relay',
      cadence: { by: 'sleep', seconds: 600 },
      signals: [{ field: '/relay', name: 'Relay', kind: 'switch', origin: 'controlled' }],
    },
  })
  const { address, token } = await owner.createDevice('relay', kit.id)
  const signalId = (await owner.device(address)).signals[0]?.id ?? 0
  const { body } = await owner.call(routes.requestCommands, { body: { signals: [signalId], value: 1 } })
  const id = body[0]?.command?.id
  expect(id).toBeGreaterThan(0)
  await kill(first)

  const second = await spawnServer(databaseUrl)
  const taken = await fetch(`${second.url}/in?commands`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json', Authorization: `Bearer ${token}` },
    body: '{"relay": false}',
  })
  expect(((await taken.json()) as { commands: { id: number }[] }).commands).toMatchObject([
    { id, value: true },
  ])
  // The report is committed, and the server ends before it can look at it.
  expect((await send(second.url, token, { relay: true })).status).toBe(204)
  await kill(second)

  const third = await spawnServer(databaseUrl)
  const { body: commands } = await at(third, owner).call(routes.listCommands, { query: {} })
  expect(commands).toMatchObject([{ id, state: 'confirmed' }])
  await kill(third)
}, 120_000)
