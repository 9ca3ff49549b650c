import { execFile, spawn } from 'node:child_process'
import { once } from 'node:events'
import { mkdtempSync, rmSync } from 'node:fs'
import { connect as connectTcp } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { routes } from '@jaunty-sparrow/contract'
import mqtt from 'mqtt'
import { ensureDatabase, startCluster } from '../../../launch/cluster.mjs'
import { startServer } from '../server.ts'
import {
  emptyDatabase,
  type ServerUnderTest,
  send,
  serverUnderTest,
  spendDay,
  TestPerson,
  testConfig,
} from '../testing/serverUnderTest.ts'
import { spawnServer } from '../testing/spawnedServer.ts'

let server: ServerUnderTest
let secret: string
beforeAll(async () => {
  server = await serverUnderTest()
  secret = (await server.owner.createDevice('bench')).secret
  await send(server.origin, `bench.${secret}`, { temp: 0 })
})
afterAll(() => server.close())

const run = promisify(execFile)

/** The next event of a client of the mqtt package, whose emitter Node's types do not take for one. */
const event = (client: mqtt.MqttClient, name: 'close' | 'reconnect') =>
  new Promise<void>((resolve) => client.once(name, () => resolve()))

/** What Debian's own clients, which share no code with us, are told to come in. */
const asBench = (password = secret) => [
  '-h',
  '127.0.0.1',
  '-p',
  String(server.mqttPort),
  '-u',
  'bench',
  '-P',
  password,
]

const publish = (topic: string, message: string, password = secret, ...more: string[]) =>
  run('mosquitto_pub', [...asBench(password), '-q', '1', '-t', topic, '-m', message, ...more])

const latest = async (field: string) =>
  (await server.owner.device('bench')).signals.find((signal) => signal.field === field)?.latest?.value

describe('a message published by mosquitto_pub', () => {
  it.each([
    ['sparrow/bench/in', '{"temp": 21.5}', '/temp', 21.5],
    ['sparrow/bench/in/temp', '22.5', '/temp', 22.5],
    ['sparrow/bench/in/probes', '{"top": 4}', '/probes/top', 4],
    ['sparrow/bench/in', '[{"n": "temp", "v": 23.5}]', '/temp', 23.5],
  ])('to %s as %s is stored by the time it is acknowledged', async (topic, message, field, value) => {
    await publish(topic, message)
    expect(await latest(field)).toBe(value)
  })

  it('with QoS 2 is stored once', async () => {
    await run('mosquitto_pub', [...asBench(), '-q', '2', '-t', 'sparrow/bench/in/twice', '-m', '7'])
    expect(await server.owner.values('bench', '/twice')).toHaveLength(1)
  })

  it('is kept beside others of the same millisecond, however many come in a row', async () => {
    const burst = await server.owner.createDevice('burst')
    await server.owner.limit('burst', { messagesPerMinute: 1_000_000 })
    const client = spawn('mosquitto_pub', [
      ...['-h', '127.0.0.1', '-p', String(server.mqttPort), '-u', 'burst', '-P', burst.secret],
      ...['-q', '1', '-t', 'sparrow/burst/in/n', '-l'],
    ])
    client.stdin.end(Array.from({ length: 300 }, (_, n) => `${n}\n`).join(''))
    await once(client, 'exit')
    const kept = await server.owner.values('burst', '/n')
    expect(kept.map(([, value]) => value)).toEqual(Array.from({ length: 300 }, (_, n) => n))
  })

  it('that cannot be understood is acknowledged, and Arrivals says why', async () => {
    await publish('sparrow/bench/in', '{"temp": "warm"}')
    expect(await server.owner.arrival(({ reason }) => reason.includes('"warm"'))).toMatchObject({
      door: 'mqtt',
      sender: 'bench',
      outcome: 'refused',
    })
  })

  it('with a wrong secret is turned away, and Arrivals says who tried', async () => {
    await expect(publish('sparrow/bench/in', '{"temp": 1}', 'wrong')).rejects.toThrow(
      /not authori[sz]ed|bad user name/i,
    )
    expect(
      await server.owner.arrival(({ reason }) => reason.includes('not the one of "bench"')),
    ).toMatchObject({
      deviceId: null,
      sender: 'bench',
    })
  })

  it('to the branch of another device ends the connection, and stores nothing', async () => {
    await server.owner.createDevice('other')
    await publish('sparrow/other/in', '{"temp": 1}').catch(() => undefined)
    expect(
      await server.owner.arrival(({ reason }) => reason.includes('below sparrow/bench/ only')),
    ).toMatchObject({
      outcome: 'refused',
    })
    expect((await server.owner.device('other')).signals).toEqual([])
  })
})

describe('a subscription', () => {
  it('reaches the own branch and no other', async () => {
    const listener = spawn('stdbuf', [
      '-oL',
      'mosquitto_sub',
      '-d',
      ...asBench(),
      '-t',
      'sparrow/bench/presence',
      '-t',
      'sparrow/#',
      '-C',
      '1',
    ])
    let output = ''
    const granted = new Promise<void>((resolve) => {
      listener.stdout.on('data', (chunk) => {
        output += chunk
        if (/Subscribed/.test(output)) resolve()
      })
    })
    await granted
    expect(output).toMatch(/Subscribed \(mid: \d+\): 0, 128/)
    // What it said last may still be on its way when it has ended.
    const ended = once(listener, 'close')
    await publish('sparrow/bench/presence', 'here', secret, '-r')
    await ended
    expect(output).toContain('here')
  })
})

describe('the mqtt package through WebSocket', () => {
  const connect = () =>
    mqtt.connectAsync(`${server.origin.replace('http', 'ws')}/mqtt`, {
      username: 'bench',
      password: secret,
      reconnectPeriod: 0,
    })

  it('is as good as TCP', async () => {
    const client = await connect()
    await client.publishAsync('sparrow/bench/in/temp', '31', { qos: 1 })
    expect(await latest('/temp')).toBe(31)
    await client.endAsync()
  })

  it('is cut at once when the secret is replaced', async () => {
    const client = await connect()
    const closed = event(client, 'close')
    const { body } = await server.owner.call(routes.replaceSecret, { params: { address: 'bench' } })
    await closed
    await expect(connect()).rejects.toThrow(/username/i)
    secret = body.secret
    await (await connect()).endAsync()
  })

  it('takes the place of the one that was silent for longest, after five connections of one device', async () => {
    const clients = []
    for (let n = 0; n < 5; n++) clients.push(await connect())
    const [first, ...others] = clients as [mqtt.MqttClient, ...mqtt.MqttClient[]]
    const closed = event(first, 'close')
    const sixth = await connect()
    await closed
    expect([...others, sixth].every(({ connected }) => connected)).toBe(true)
    await Promise.all([...others, sixth].map((client) => client.endAsync()))
  })
})

describe('a client that sends more than it may', () => {
  it('is held back and not cut off, loses nothing, and Arrivals says so', async () => {
    const { secret: own, token } = await server.owner.createDevice('eager')
    await server.owner.limit('eager', { messagesPerMinute: 1 })
    await spendDay(server.origin, token)
    const client = await mqtt.connectAsync(`mqtt://127.0.0.1:${server.mqttPort}`, {
      username: 'eager',
      password: own,
      reconnectPeriod: 0,
    })
    const published = [0, 1].map((n) => client.publishAsync('sparrow/eager/in/held', String(n), { qos: 1 }))
    const held = await server.owner.arrival(({ sender, door }) => sender === 'eager' && door === 'mqtt')
    expect(held).toMatchObject({
      outcome: 'throttled',
      reason: expect.stringMatching(/minute \(1\).*wait\.$/),
    })
    expect(await server.owner.values('eager', '/held')).toEqual([])
    await server.owner.limit('eager', { messagesPerMinute: 6000 })
    await Promise.all(published)
    expect((await server.owner.values('eager', '/held')).map(([, n]) => n)).toEqual([0, 1])
    expect([client.connected, (await server.owner.device('eager')).dropped]).toEqual([true, null])
    await client.endAsync()
  })
})

describe('packets that are none', () => {
  it('break nothing', async () => {
    for (const bytes of [
      [0],
      [0x10, 0xff, 0xff, 0xff, 0xff, 0xff],
      [0x30, 2, 0, 9],
      Array.from({ length: 500 }, (_, n) => (n * 89) % 256),
    ]) {
      const socket = connectTcp(server.mqttPort, '127.0.0.1')
      socket.on('error', () => undefined)
      socket.end(Uint8Array.from(bytes))
      await once(socket.resume(), 'close')
    }
    await publish('sparrow/bench/in/temp', '40')
    expect(await latest('/temp')).toBe(40)
  })
})

describe('a database that is away', () => {
  it('leaves the client without an acknowledgement, and its message is stored once when it comes again', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'sparrow-mqtt-'))
    const cluster = await startCluster(folder)
    await ensureDatabase(cluster, 'sparrow')
    const running = await startServer(testConfig(cluster.url('sparrow')), {
      webRoot: undefined,
      now: Date.now,
    })
    const owner = new TestPerson(running.url)
    await owner.becomeOwner(running.firstRunToken)
    const device = await owner.createDevice('patient')
    await send(running.url, device.token, { n: -1 })
    const client = await mqtt.connectAsync(`mqtt://127.0.0.1:${running.mqttPort}`, {
      username: 'patient',
      password: device.secret,
      clean: false,
      clientId: 'patient-1',
      reconnectPeriod: 100,
    })
    cluster.stop()
    const start = Date.now() - 10_000
    let acknowledged = false
    const published = client
      .publishAsync('sparrow/patient/in', JSON.stringify({ n: 1, t: start }), { qos: 1 })
      .then(() => {
        acknowledged = true
      })
    await event(client, 'reconnect')
    expect(acknowledged).toBe(false)
    cluster.restart()
    await published
    expect((await owner.values('patient', '/n')).filter(([, n]) => n === 1)).toEqual([[start, 1]])
    await client.endAsync()
    await running.close()
    cluster.stop()
    rmSync(folder, { recursive: true, force: true })
  }, 120_000)
})

describe('a server that is killed under MQTT load', () => {
  it('has every reading it acknowledged, once, when it is back', async () => {
    const databaseUrl = await emptyDatabase()
    const first = await spawnServer(databaseUrl)
    const owner = new TestPerson(first.url)
    await owner.becomeOwner(first.firstRunToken)
    const device = await owner.createDevice('stream')
    await owner.limit('stream', { messagesPerMinute: 1_000_000 })
    await send(first.url, device.token, { n: -1 })
    const client = await mqtt.connectAsync(`mqtt://127.0.0.1:${first.mqttPort}`, {
      username: 'stream',
      password: device.secret,
      reconnectPeriod: 0,
    })
    client.on('error', () => undefined)
    const start = Date.now() - 1_000_000
    const acknowledged: number[] = []
    const lost = event(client, 'close')
    for (let n = 0; n < 5000; n++) {
      client.publish('sparrow/stream/in', JSON.stringify({ n, t: start + n }), { qos: 1 }, (error) => {
        if (error) return
        acknowledged.push(n)
        if (acknowledged.length === 1000) first.process.kill('SIGKILL')
      })
    }
    await lost
    expect(acknowledged.length).toBeGreaterThanOrEqual(1000)
    const second = await spawnServer(databaseUrl)
    const again = new TestPerson(second.url)
    again.cookie = owner.cookie
    const stored = (await again.values('stream', '/n')).map(([, n]) => n).filter((n) => n >= 0)
    expect(new Set(stored).size).toBe(stored.length)
    const there = new Set(stored)
    expect(acknowledged.filter((n) => !there.has(n))).toEqual([])
    client.end(true)
    const ended = once(second.process, 'exit')
    second.process.kill('SIGTERM')
    await ended
  }, 120_000)
})
