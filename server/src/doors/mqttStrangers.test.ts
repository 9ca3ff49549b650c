import { once } from 'node:events'
import { connect as connectTcp, type Socket } from 'node:net'
import mqtt from 'mqtt'
import { generate, type Packet, parser } from 'mqtt-packet'
import { startServer } from '../server.ts'
import { type ServerUnderTest, serverUnderTest, testConfig } from '../testing/serverUnderTest.ts'

let server: ServerUnderTest
beforeAll(async () => {
  server = await serverUnderTest()
})
afterEach(() => expect(server.faults.last).toBeUndefined())
afterAll(() => server.close())

interface Board {
  readonly address: string
  readonly secret: string
}

/** A client that says each packet itself, as none that is well made would. */
class Raw {
  readonly socket: Socket
  readonly #packets: Packet[] = []
  readonly #waiting: (() => void)[] = []

  constructor(port = server.mqttPort) {
    this.socket = connectTcp(port, '127.0.0.1')
    this.socket.on('error', () => undefined)
    const parse = parser()
    parse.on('packet', (packet) => {
      this.#packets.push(packet)
      for (const look of this.#waiting) look()
    })
    this.socket.on('data', (bytes) => parse.parse(bytes))
  }

  say(packet: Packet): void {
    this.socket.write(generate(packet))
  }

  async hear<K extends Packet['cmd']>(cmd: K, nth = 1): Promise<Extract<Packet, { cmd: K }>> {
    const found = () => this.#packets.filter((packet) => packet.cmd === cmd)[nth - 1]
    if (!found()) {
      await new Promise<void>((heard) => {
        this.#waiting.push(() => found() && heard())
      })
    }
    return found() as Extract<Packet, { cmd: K }>
  }

  connect({ address, secret }: Board, clientId = 'raw', clean = true, keepalive = 0): void {
    this.say({
      cmd: 'connect',
      protocolId: 'MQTT',
      protocolVersion: 4,
      clientId,
      clean,
      keepalive,
      username: address,
      password: Buffer.from(secret),
    })
  }

  publish(topic: string, payload: string | Buffer, messageId: number, qos: 0 | 1 | 2 = 1, dup = false): void {
    this.say({ cmd: 'publish', topic, payload, messageId, qos, dup, retain: false })
  }

  async closed(): Promise<void> {
    if (!this.socket.destroyed) await once(this.socket, 'close')
  }
}

const client = ({ address, secret }: Board, options: mqtt.IClientOptions = {}, port = server.mqttPort) =>
  mqtt.connectAsync(`mqtt://127.0.0.1:${port}`, {
    username: address,
    password: secret,
    reconnectPeriod: 0,
    ...options,
  })

const values = async (address: string, field = '/n') =>
  (await server.owner.values(address, field)).map(([, value]) => value)

describe('a packet that is announced to be large', () => {
  const header = (kind: number, length: number) => {
    const bytes = [kind]
    for (let left = length; left > 0 || bytes.length === 1; left = Math.floor(left / 128))
      bytes.push((left % 128) | (left >= 128 ? 0x80 : 0))
    return Uint8Array.from(bytes)
  }

  it('is not waited for before anybody has said who he is', async () => {
    const raw = new Raw()
    raw.socket.write(header(0x10, 100 * 1024 * 1024))
    await raw.closed()
    expect(await server.owner.arrival(({ reason }) => reason.includes('more than 8 KiB'))).toMatchObject({
      deviceId: null,
    })
  })

  it('nor after, and its owner is told', async () => {
    const board = await server.owner.createDevice('large')
    const raw = new Raw()
    raw.connect(board)
    await raw.hear('connack')
    raw.socket.write(header(0x32, 100 * 1024 * 1024))
    await raw.closed()
    expect(await server.owner.arrival(({ sender }) => sender === 'large')).toMatchObject({
      outcome: 'refused',
      reason: expect.stringContaining('was announced'),
    })
  })
})

describe('a client id', () => {
  it('belongs to its device: another neither ends that session nor hears what it is owed', async () => {
    const valve = await server.owner.createDevice('valve')
    const other = await server.owner.createDevice('other')
    const options = { clientId: 'board', clean: false }
    const first = await client(valve, options)
    await first.subscribeAsync('sparrow/valve/set/#', { qos: 1 })
    const second = await client(other, options)
    expect(first.connected).toBe(true)
    await first.endAsync()
    const publisher = await client(valve)
    await publisher.publishAsync('sparrow/valve/set/position', 'open', { qos: 1 })
    await second.endAsync()

    const heard: string[] = []
    const thief = mqtt.connect(`mqtt://127.0.0.1:${server.mqttPort}`, {
      ...options,
      username: other.address,
      password: other.secret,
      reconnectPeriod: 0,
    })
    thief.on('message', (topic) => heard.push(topic))
    await new Promise<void>((connected) => thief.once('connect', () => connected()))
    // A message that comes later comes behind what was owed.
    await thief.subscribeAsync('sparrow/other/#', { qos: 1 })
    const own = new Promise<void>((resolve) => thief.once('message', () => resolve()))
    await thief.publishAsync('sparrow/other/state/x', '1', { qos: 1 })
    await own
    expect(heard).toEqual(['sparrow/other/state/x'])
    await thief.endAsync()

    const rightful = mqtt.connect(`mqtt://127.0.0.1:${server.mqttPort}`, {
      ...options,
      username: valve.address,
      password: valve.secret,
      reconnectPeriod: 0,
    })
    const [topic] = await new Promise<[string]>((resolve) =>
      rightful.once('message', (topic) => resolve([topic])),
    )
    expect(topic).toBe('sparrow/valve/set/position')
    await Promise.all([rightful.endAsync(), publisher.endAsync()])
  })
})

describe('connections that are left lying about', () => {
  it('lock no device out, whether they were reset after CONNECT or stay half open', async () => {
    const board = await server.owner.createDevice('clumsy')
    for (let n = 0; n < 8; n++) {
      const raw = new Raw()
      raw.connect(board, `reset-${n}`)
      raw.socket.resetAndDestroy()
    }
    const halfOpen = Array.from({ length: 8 }, (_, n) => {
      const raw = new Raw()
      raw.connect(board, `silent-${n}`, true, 0)
      return raw
    })
    for (const raw of halfOpen.slice(-1)) await raw.hear('connack')
    const real = await client(board)
    await real.publishAsync('sparrow/clumsy/in/n', '1', { qos: 1 })
    expect(await values('clumsy')).toEqual([1])
    await real.endAsync()
    for (const { socket } of halfOpen) socket.destroy()
  })
})

describe('a message with QoS 2', () => {
  it('that is sent again before PUBREL is stored once', async () => {
    const board = await server.owner.createDevice('twice')
    const raw = new Raw()
    raw.connect(board, 'twice', false)
    await raw.hear('connack')
    raw.publish('sparrow/twice/in/n', '7', 1, 2)
    raw.publish('sparrow/twice/in/n', '7', 1, 2, true)
    await raw.hear('pubrec', 2)
    raw.socket.destroy()
    const again = new Raw()
    again.connect(board, 'twice', false)
    expect((await again.hear('connack')).sessionPresent).toBe(false)
    again.publish('sparrow/twice/in/n', '7', 1, 2, true)
    await again.hear('pubrec')
    again.say({ cmd: 'pubrel', messageId: 1 })
    await again.hear('pubcomp')
    again.publish('sparrow/twice/in/n', '8', 1, 2)
    await again.hear('pubrec', 2)
    expect(await values('twice')).toEqual([7, 8])
    again.socket.destroy()
  })
})

describe('messages with QoS 2 that are never released', () => {
  it('end the connection when they are too many, and nothing else', async () => {
    const board = await server.owner.createDevice('endless')
    const raw = new Raw()
    raw.connect(board, 'endless', false)
    await raw.hear('connack')
    for (let n = 1; n <= 1000; n++) raw.publish('sparrow/endless/in/n', String(n), n, 2)
    await raw.hear('pubrec', 1000)
    raw.publish('sparrow/endless/in/n', '1001', 1001, 2)
    await raw.closed()
    expect(await values('endless')).toHaveLength(1000)
  })
})

describe('a backlog of messages', () => {
  it('of a thousand at once is stored whole, with the allowance that every device has', async () => {
    const board = await server.owner.createDevice('backlog')
    const publisher = await client(board)
    await Promise.all(
      Array.from({ length: 1000 }, (_, n) =>
        publisher.publishAsync('sparrow/backlog/in/n', String(n), { qos: 1 }),
      ),
    )
    expect(await values('backlog')).toHaveLength(1000)
    expect((await server.owner.device('backlog')).dropped).toBeNull()
    await publisher.endAsync()
  })
})

describe('what is retained', () => {
  it('is little, and nothing of what was measured', async () => {
    const board = await server.owner.createDevice('hoarder')
    const publisher = await client(board)
    await publisher.publishAsync('sparrow/hoarder/about/huge', 'x'.repeat(5000), { qos: 1, retain: true })
    await publisher.publishAsync('sparrow/hoarder/about/small', 'x', { qos: 1, retain: true })
    await publisher.publishAsync('sparrow/hoarder/in/n', '1', { qos: 1, retain: true })
    const heard: string[] = []
    publisher.on('message', (topic) => heard.push(topic))
    const small = new Promise<void>((resolve) => publisher.once('message', () => resolve()))
    await publisher.subscribeAsync('sparrow/hoarder/#')
    await small
    await publisher.publishAsync('sparrow/hoarder/state/last', '1', { qos: 1 })
    expect(heard.filter((topic) => !topic.endsWith('last'))).toEqual(['sparrow/hoarder/about/small'])
    expect(await server.owner.arrival(({ reason }) => reason.includes('not retained'))).toMatchObject({
      sender: 'hoarder',
    })
    await publisher.endAsync()
  })

  it('of a device’s presence outlives a restart, and goes with the device', async () => {
    const board = await server.owner.createDevice('present')
    const publisher = await client(board)
    await publisher.publishAsync('sparrow/present/presence', 'here', { qos: 1, retain: true })
    await publisher.endAsync()
    await server.close()
    const again = await startServer(testConfig(server.databaseUrl), { webRoot: undefined, now: Date.now })
    const listener = await client(board, {}, again.mqttPort)
    const heard = new Promise<[string, string, boolean]>((resolve) =>
      listener.once('message', (topic, payload, { retain }) => resolve([topic, String(payload), retain])),
    )
    await listener.subscribeAsync('sparrow/present/presence')
    expect(await heard).toEqual(['sparrow/present/presence', 'here', true])
    await listener.endAsync()
    await again.close()
    server = await serverUnderTest()
  })
})
