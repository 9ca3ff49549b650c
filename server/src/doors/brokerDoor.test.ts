import { type ChildProcess, spawn } from 'node:child_process'
import { once } from 'node:events'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { connect as connectTcp, createServer } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { routes } from '@jaunty-sparrow/contract'
import mqtt from 'mqtt'
import pg from 'pg'
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
  broker = spawn('/usr/sbin/mosquitto', ['-c', file])
  await listening(port)
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

async function freePort(): Promise<number> {
  const server = createServer().listen(0, '127.0.0.1')
  await once(server, 'listening')
  const address = server.address()
  server.close()
  await once(server, 'close')
  return typeof address === 'object' && address ? address.port : 0
}

async function listening(port: number): Promise<void> {
  for (let attempt = 0; attempt < 200; attempt++) {
    const socket = connectTcp(port, '127.0.0.1')
    const there = await new Promise<boolean>((done) => {
      socket.once('connect', () => done(true)).once('error', () => done(false))
    })
    socket.destroy()
    if (there) return
    await new Promise((soon) => setTimeout(soon, 50))
  }
  throw new Error('the broker did not start')
}

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

/** Waits until a number that is asked for is what it should be. */
async function until(look: () => Promise<number>, wanted: number): Promise<void> {
  let found = await look()
  for (let n = 0; found !== wanted && n < 1200; n++) {
    await new Promise((soon) => setTimeout(soon, 50))
    found = await look()
  }
  expect(found).toBe(wanted)
}

const stored = async () => {
  const { rows } = await database.query('select count(*)::int as n from reading where value >= 0')
  return rows[0].n as number
}

it('lets two servers divide one stream, and loses nothing when one is killed', async () => {
  const first = await start('one')
  const owner = new TestPerson(first.url)
  await owner.becomeOwner()
  const { token } = await owner.createDevice('stream')
  await owner.limit('stream', { messagesPerMinute: 1_000_000 })
  await send(first.url, token, { n: -1 })
  const second = await start('two')
  const neighbour = new TestPerson(second.url)
  neighbour.cookie = owner.cookie
  await until(async () => (await neighbour.device('stream')).signals[0]?.latest?.value ?? 0, -1)

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
  while ((await stored()) < total / 4) await new Promise((soon) => setTimeout(soon, 20))
  await stop(first, 'SIGKILL')
  await all
  await start('one')
  await until(stored, total)
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
  await until(async () => (await send(one.url, token, { level: 7 })).status, 204)
  const level = async () => (await owner.device('wanderer')).signals[0]?.latest?.value ?? 0
  await until(level, 7)
  await owner.limit('wanderer', { reach: ['garden/#'] })
  const publisher = await mqtt.connectAsync(url, { reconnectPeriod: 0 })
  const unclaimed = async (sender: string, topic: string) => {
    const { body } = await neighbour.call(routes.listUnclaimed)
    return body.filter((group) => group.sender === sender && group.topic === topic).length
  }
  // Whether the other server has asked for the topic already cannot be seen, so it is published until it is heard.
  for (let n = 0; (await unclaimed('wanderer', 'garden/bed/soil')) === 0 && n < 200; n++) {
    await publisher.publishAsync('garden/bed/soil', '31', { qos: 1 })
    await new Promise((soon) => setTimeout(soon, 50))
  }
  expect(await unclaimed('wanderer', 'garden/bed/soil')).toBe(1)
  await publisher.publishAsync('sparrow/ghost/in', '{"a": 1}', { qos: 1 })
  await until(() => unclaimed('ghost', ''), 1)
  await owner.call(routes.deleteDevice, { params: { address: 'wanderer' } })
  await until(async () => (await send(one.url, token, { level: 8 })).status, 401)
  await publisher.endAsync()
})
