import { type ChildProcess, spawn } from 'node:child_process'
import { once } from 'node:events'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { createInterface } from 'node:readline'
import type { Readable } from 'node:stream'
import { routes } from '@jaunty-sparrow/contract'
import mqtt from 'mqtt'
import pg from 'pg'
import { freePort } from '../testing/freePort.ts'
import { emptyDatabase, send, TestPerson } from '../testing/serverUnderTest.ts'
import { type SpawnedServer, spawnServer } from '../testing/spawnedServer.ts'

const folder = mkdtempSync(join(tmpdir(), 'sparrow-broker-'))
let broker: ChildProcess
let url: string
let databaseUrl: string
let database: pg.Client
const servers = new Set<SpawnedServer>()

beforeAll(async () => {
  const port = await freePort()
  url = `mqtt://127.0.0.1:${port}`
  const file = join(folder, 'broker.conf')
  writeFileSync(
    file,
    `listener ${port} 127.0.0.1\nallow_anonymous true\nmax_queued_messages 0\nmax_inflight_messages 100\nuser root\n`,
  )
  broker = spawn('/usr/sbin/mosquitto', ['-c', file], { stdio: ['ignore', 'ignore', 'pipe'] })
  // It says that it runs when it listens.
  for await (const line of createInterface({ input: broker.stderr as Readable }))
    if (line.endsWith(' running')) break
  broker.stderr?.resume()
  databaseUrl = await emptyDatabase()
  database = new pg.Client(databaseUrl)
  await database.connect()
})
afterAll(async () => {
  await database.end()
  for (const server of servers) await stop(server, 'SIGTERM')
  const ended = once(broker, 'exit')
  broker.kill()
  await ended
  rmSync(folder, { recursive: true, force: true })
})

async function start(name: string): Promise<SpawnedServer> {
  const server = await spawnServer(databaseUrl, { MQTT_URL: url, SERVER_NAME: name })
  servers.add(server)
  return server
}

async function stop(server: SpawnedServer, signal: NodeJS.Signals): Promise<void> {
  servers.delete(server)
  const ended = once(server.process, 'exit')
  server.process.kill(signal)
  await ended
}

const stored = async () => {
  const { rows } = await database.query('select count(*)::int as n from reading where value >= 0')
  return rows[0].n as number
}

it('lets two servers divide one stream, and loses nothing when one is killed', async () => {
  const first = await start('one')
  const owner = new TestPerson(first.url)
  await owner.becomeOwner(first.firstRunToken)
  const { token } = await owner.createDevice('stream')
  await owner.limit('stream', { messagesPerMinute: 1_000_000 })
  await send(first.url, token, { n: -1 })
  const second = await start('two')
  const neighbour = new TestPerson(second.url)
  neighbour.cookie = owner.cookie
  await neighbour.until(
    async () => (await neighbour.device('stream')).signals[0]?.latest?.value,
    (value) => value === -1,
  )

  const total = 20_000
  const origin = Date.now() - 10_000_000
  const publisher = await mqtt.connectAsync(url, { reconnectPeriod: 0 })
  let acknowledged = 0
  const all = new Promise<void>((resolve) => {
    for (let n = 0; n < total; n++)
      publisher.publish('sparrow/stream/in', JSON.stringify({ n, t: origin + n }), { qos: 1 }, (error) => {
        if (!error && ++acknowledged === total) resolve()
      })
  })
  await neighbour.until(stored, (count) => count >= total / 4)
  await stop(first, 'SIGKILL')
  await all
  await start('one')
  await neighbour.until(stored, (count) => count === total)
  const { rows } = await database.query(
    'select count(distinct value)::int as n from reading where value >= 0',
  )
  expect(rows[0].n).toBe(total)
  await publisher.endAsync()
}, 180_000)

it('lets each server know what the other one learns', async () => {
  const [one, two] = [...servers]
  if (!one || !two) throw new Error('two servers should be running')
  const owner = new TestPerson(two.url)
  await owner.call(routes.signIn, { body: { name: 'Ines Marlow', password: 'a gate, a goat, a bell' } })
  const neighbour = new TestPerson(one.url)
  neighbour.cookie = owner.cookie
  const { token } = await owner.createDevice('wanderer')
  await neighbour.until(
    async () => (await neighbour.call(routes.listDevices)).body,
    (devices) => devices.some(({ address }) => address === 'wanderer'),
  )
  expect((await send(one.url, token, { level: 7 })).status).toBe(204)
  await owner.until(
    async () => (await owner.device('wanderer')).signals[0]?.latest?.value,
    (value) => value === 7,
  )
  await owner.limit('wanderer', { reach: ['garden/#'] })
  const publisher = await mqtt.connectAsync(url, { reconnectPeriod: 0 })
  const unclaimed = async (sender: string, topic: string) => {
    const { body } = await neighbour.call(routes.listUnclaimed)
    return body.filter((group) => group.sender === sender && group.topic === topic).length
  }
  // Whether the other server has asked for the topic already cannot be seen, so it is published until it is heard.
  while ((await unclaimed('wanderer', 'garden/bed/soil')) === 0)
    await publisher.publishAsync('garden/bed/soil', '31', { qos: 1 })
  expect(await unclaimed('wanderer', 'garden/bed/soil')).toBe(1)
  await publisher.publishAsync('sparrow/ghost/in', '{"a": 1}', { qos: 1 })
  await neighbour.until(
    () => unclaimed('ghost', ''),
    (count) => count === 1,
  )
  await owner.call(routes.deleteDevice, { params: { address: 'wanderer' } })
  await neighbour.until(
    async () => (await neighbour.call(routes.listDevices)).body,
    (devices) => devices.every(({ address }) => address !== 'wanderer'),
  )
  expect((await send(one.url, token, { level: 8 })).status).toBe(401)
  await publisher.endAsync()
})
