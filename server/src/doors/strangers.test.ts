import { createSocket } from 'node:dgram'
import { once } from 'node:events'
import { request } from 'node:http'
import { connect } from 'node:net'
import { routes } from '@jaunty-sparrow/contract'
import { generate, parse } from 'coap-packet'
import pg from 'pg'
import { startServer } from '../server.ts'
import {
  emptyDatabase,
  type ServerUnderTest,
  send,
  serverUnderTest,
  TestPerson,
  testConfig,
} from '../testing/serverUnderTest.ts'

let server: ServerUnderTest
let token: string
let database: pg.Client
beforeAll(async () => {
  server = await serverUnderTest()
  token = (await server.owner.createDevice('calm')).token
  database = new pg.Client({ connectionString: server.databaseUrl })
  await database.connect()
})
// Whatever was sent: the server lives, others are served, and nothing went wrong that was not foreseen.
afterEach(async () => {
  expect((await send(server.origin, token, { temp: 21.5 })).status).toBe(204)
  expect(server.faults.last).toBeUndefined()
})
afterAll(async () => {
  await database.end()
  await server.close()
})

/** Posts to a path as it stands, without a client that puts it right first. */
const post = (path: string, headers: Record<string, string>, body = '{}') =>
  new Promise<number | undefined>((resolve, reject) => {
    const { hostname, port } = new URL(server.origin)
    request({ hostname, port, path, method: 'POST', headers }, (answer) => {
      answer.resume().on('end', () => resolve(answer.statusCode))
    })
      .on('error', reject)
      .end(body)
  })

/** Writes bytes to a port and waits until the other side has closed. */
async function write(port: number, bytes: Uint8Array | string): Promise<void> {
  const socket = connect(port, '127.0.0.1')
  socket.on('error', () => undefined)
  socket.write(bytes)
  await once(socket.resume(), 'close')
}

describe('over HTTP', () => {
  it.each(['/in/%zz', '/in/%', '/in/%ff', '/in/a%00b', '/in/%ed%a0%80'])('%s is refused', async (path) => {
    for (const bearer of ['nobody.x', token, '.', ''])
      expect(await post(path, { Authorization: `Bearer ${bearer}` }, '1')).toBeGreaterThanOrEqual(400)
  })

  it('a name of NULs tells of itself, and no refusal of others is lost', async () => {
    const basic = `Basic ${Buffer.from('a\0b:c').toString('base64')}`
    const statuses = await Promise.all([
      post('/in', { Authorization: basic }),
      ...Array.from({ length: 20 }, (_, n) => post('/in', { Authorization: `Bearer stranger-${n}.x` })),
      post('/in', { Authorization: basic }),
    ])
    expect(new Set(statuses)).toEqual(new Set([401]))
    const { body } = await server.owner.call(routes.listArrivals, { query: { limit: 100 } })
    const senders = body.map(({ sender }) => sender)
    expect(senders).toContain('a\uFFFDb')
    expect(senders.filter((sender) => sender.startsWith('stranger-'))).toHaveLength(20)
  })

  it('answers do not let a browser guess what they are', async () => {
    const answer = await fetch(`${server.origin}/in`, { method: 'POST' })
    expect([answer.status, answer.headers.get('x-content-type-options')]).toEqual([401, 'nosniff'])
  })

  it('what is no HTTP, and what ends in the middle, ends that connection alone', async () => {
    const { port } = new URL(server.origin)
    await write(Number(port), 'GET\r\n\r\n')
    const socket = connect(Number(port), '127.0.0.1')
    socket.write(
      `POST /in HTTP/1.1\r\nHost: x\r\nAuthorization: Bearer ${token}\r\nContent-Length: 100\r\n\r\n{"te`,
    )
    await once(socket, 'connect')
    socket.resetAndDestroy()
  })
})

describe('over WebSocket', () => {
  const upgrade = (path: string) =>
    `GET ${path} HTTP/1.1\r\nHost: 127.0.0.1\r\nConnection: Upgrade\r\nUpgrade: websocket\r\nSec-WebSocket-Version: 13\r\nSec-WebSocket-Key: dGhlIHNhbXBsZSBub25jZQ==\r\nSec-WebSocket-Protocol: mqtt\r\n\r\n`

  it.each(['/live', '/mqtt', '/elsewhere', '/live?x=1'])('%s, and then what is no frame', async (path) => {
    const { port } = new URL(server.origin)
    const frames = Buffer.alloc(8, 0xff)
    await write(Number(port), Buffer.concat([Buffer.from(upgrade(path)), frames]))
  })
})

describe('over CoAP', () => {
  const ask = async (packet: Parameters<typeof generate>[0]) => {
    const socket = createSocket('udp4')
    socket.send(generate(packet), server.coapPort, '127.0.0.1')
    const [bytes] = (await once(socket, 'message')) as [Buffer]
    socket.close()
    return parse(bytes)
  }
  const option = (name: string, value: string | Buffer) => ({ name, value: Buffer.from(value) }) as const

  it('an answer always fits its packet', async () => {
    const long = 'x'.repeat(250)
    const answer = await ask({
      code: 'POST',
      confirmable: true,
      options: [
        option('Uri-Path', 'in'),
        option('Uri-Query', `key=${token}`),
        ...Array.from({ length: 4 }, () => option('Uri-Path', long)),
      ],
      payload: Buffer.from('1'),
    })
    expect(answer.code).toBe('4.00')
    expect(answer.payload.length).toBeLessThanOrEqual(1024)
  })

  it('a critical option that is not known is refused, an elective one passed over', async () => {
    const to = [option('Uri-Path', 'in'), option('Uri-Query', `key=${token}`)]
    const payload = Buffer.from('{"temp": 5}')
    const asked = (number: number) =>
      ask({
        code: 'POST',
        confirmable: true,
        options: [...to, { name: number, value: Buffer.from('x') }] as never,
        payload,
      })
    for (const number of [9, 2049, 3001]) expect((await asked(number)).code).toBe('4.02')
    expect((await asked(3000)).code).toBe('2.04')
  })

  it('noise is let be', async () => {
    const socket = createSocket('udp4')
    for (const bytes of [[0], [0x40], [0x4f, 2, 0, 1], [0x40, 2, 0, 1, 0xff], Array(1400).fill(0xff)])
      socket.send(Uint8Array.from(bytes), server.coapPort, '127.0.0.1')
    expect((await ask({ code: '0.00', confirmable: true })).reset).toBe(true)
    socket.close()
  })
})

it('what another program says to the servers of the database is let be', async () => {
  for (const payload of [
    '',
    '{',
    'null',
    '[]',
    '{"from": 99}',
    '{"from": 99, "kind": "readings"}',
    '{"from": 99, "kind": "readings", "readings": [1]}',
    '{"from": 99, "kind": "forgotten"}',
  ])
    await database.query('select pg_notify($1, $2)', ['jaunty_sparrow', payload])
})

describe('a message that cannot be stored', () => {
  it.each([
    ['a NUL', { 'bad\0': 1 }, /control character/],
    ['half a character', { 'bad\ud800': 1 }, /half of a character/],
    ['nine thousand letters', { ['x'.repeat(9000)]: 1 }, /longer than 200/],
    ['no name', { '': 1 }, /no name/],
    ['a name far below a long one', { ['x'.repeat(300)]: { a: 1 } }, /longer than 200/],
  ])(
    'because of %s in a name is refused in words, and those beside it are stored',
    async (_, body, reason) => {
      const others = await Promise.all(
        ['left', 'right'].map((name) =>
          server.owner.createDevice(`${name}-${Math.random().toString(36).slice(2)}`),
        ),
      )
      const [culprit, ...beside] = await Promise.all([
        send(server.origin, token, body),
        ...others.map((other) => send(server.origin, other.token, { n: 1 })),
      ])
      expect(culprit).toMatchObject({ status: 422, body: { detail: expect.stringMatching(reason) } })
      expect(beside.map(({ status }) => status)).toEqual([204, 204])
      expect(await server.owner.arrival((arrival) => reason.test(arrival.reason))).toMatchObject({
        outcome: 'refused',
      })
    },
  )

  it('burns no numbers, nor does one whose fields are known', async () => {
    const numbers = async () => {
      const { rows } = await database.query(
        `select (select last_value from signal_id_seq) as signals, (select last_value from signal_definition_id_seq) as definitions`,
      )
      return rows[0]
    }
    const before = await numbers()
    for (let n = 0; n < 10; n++) await send(server.origin, token, { 'bad\ud800': n, temp: 1, 'x\0': 2 })
    expect(await numbers()).toEqual(before)
  })

  it('reads one path as one signal, however many slashes it has', async () => {
    for (const path of ['/in/slashes/a', '/in/slashes/a/', '/in//slashes//a'])
      expect(await post(path, { Authorization: `Bearer ${token}` }, '3')).toBe(204)
    const fields = (await server.owner.device('calm')).signals.map(({ field }) => field)
    expect(fields.filter((field) => field.includes('slashes'))).toEqual(['/slashes/a'])
  })
})

describe('a server that cannot start', () => {
  it('closes all that it had opened', async () => {
    const databaseUrl = await emptyDatabase()
    const taken = Number(new URL(server.origin).port)
    await expect(
      startServer({ ...testConfig(databaseUrl), port: taken }, { webRoot: undefined, now: Date.now }),
    ).rejects.toThrow(/is taken/)
    const again = await startServer(testConfig(databaseUrl), { webRoot: undefined, now: Date.now })
    await new TestPerson(again.url).becomeOwner(again.firstRunToken)
    await again.close()
    // It waits for connections that are ending, and fails where one has stayed.
    await database.query(`drop database ${new URL(databaseUrl).pathname.slice(1)}`)
  })
})

it('proves that it is ready with a commit, and not for each who asks', async () => {
  const beats = async () => {
    const { rows } = await database.query('select beaten_at from heartbeat')
    return String(rows[0]?.beaten_at.getTime())
  }
  const before = await beats()
  const answers = await Promise.all(Array.from({ length: 50 }, () => fetch(`${server.origin}/readyz`)))
  expect(new Set(answers.map(({ status }) => status))).toEqual(new Set([200]))
  expect(await beats()).not.toBe(before)
})
