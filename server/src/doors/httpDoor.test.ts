import { spawn } from 'node:child_process'
import { once } from 'node:events'
import { gzipSync } from 'node:zlib'
import { routes } from '@jaunty-sparrow/contract'
import fc from 'fast-check'
import pg from 'pg'
import { type ServerUnderTest, send, serverUnderTest } from '../testing/serverUnderTest.ts'

let server: ServerUnderTest
let token: string

beforeAll(async () => {
  server = await serverUnderTest()
  const device = await server.owner.createDevice('bench')
  await server.owner.limit('bench', { messagesPerMinute: 1_000_000 })
  token = device.token
  await send(server.origin, token, { temp: 20, relay: true })
  await server.owner.accept('bench', '/temp')
  await server.owner.accept('bench', '/relay')
  const [temp] = (await server.owner.device('bench')).signals
  await server.owner.call(routes.changeSignalDefinition, {
    params: { definitionId: temp?.definitionId ?? 0 },
    body: { unit: 'Cel' },
  })
})
afterAll(() => server.close())

const post = (body: string | object | Uint8Array, headers = {}) => send(server.origin, token, body, headers)

/** Posts with curl, which shares no code with us. @returns the status */
async function curl(url: string, headers: readonly string[], body: Buffer): Promise<string> {
  const process = spawn('curl', [
    ...['-sS', '-o', '/dev/null', '-w', '%{http_code}', '--data-binary', '@-'],
    ...headers.flatMap((header) => ['-H', header]),
    url,
  ])
  let status = ''
  process.stdout.on('data', (chunk) => {
    status += chunk
  })
  process.stdin.end(body)
  await once(process, 'close')
  return status
}

describe('a message that is understood', () => {
  it('is answered 204, and there', async () => {
    const { status, body } = await post({ temp: 21.25, relay: false })
    expect([status, body]).toEqual([204, undefined])
    const device = await server.owner.device('bench')
    expect(device.signals.map(({ latest }) => latest?.value)).toEqual([21.25, 0])
  })

  it('changes nothing when it is sent again', async () => {
    const t = Date.now() - 60_000
    const before = (await server.owner.values('bench', '/temp')).length
    await post({ temp: 30, t })
    await post({ temp: 30, t })
    await post([
      { temp: 30, t },
      { temp: 31, t },
    ])
    const values = await server.owner.values('bench', '/temp')
    expect(values).toHaveLength(before + 1)
    expect(values).toContainEqual([t, 30])
  })

  it('may be years old: its partition is made when it is needed', async () => {
    const { status } = await post({ temp: 4, t: '2019-02-28T23:59:59.999Z' })
    expect(status).toBe(204)
    const client = new pg.Client({ connectionString: server.databaseUrl })
    await client.connect()
    const { rows } = await client.query(
      "select value, received_at > now() - interval '1 minute' as fresh from reading_2019_02",
    )
    await client.end()
    expect(rows).toEqual([{ value: 4, fresh: true }])
  })

  it('may come as Basic, with the address as the user name', async () => {
    const [address, secret] = token.split('.')
    const basic = `Basic ${Buffer.from(`${address}:${secret}`).toString('base64')}`
    expect((await send(server.origin, undefined, { temp: 1 }, { Authorization: basic })).status).toBe(204)
  })

  it('may come from curl as a form, CSV, SenML, CBOR, pairs or a bare value, packed or not', async () => {
    const bodies: [string, string, string | Uint8Array][] = [
      ['/in', 'application/x-www-form-urlencoded', 'temp=1'],
      ['/in', 'text/csv; charset=utf-8', 'temp,relay\n2,true'],
      ['/in', 'application/senml+json', '[{"n":"temp","v":3}]'],
      [
        '/in',
        'application/senml+cbor',
        Uint8Array.from([0x81, 0xa2, 0x00, 0x64, 0x74, 0x65, 0x6d, 0x70, 0x02, 0x04]),
      ],
      ['/in', 'application/cbor', Uint8Array.from([0xa1, 0x64, 0x74, 0x65, 0x6d, 0x70, 0x05])],
      ['/in/temp', 'text/plain', '6'],
      ['/in', 'text/x.pairs', 'temp=7 relay=true'],
      ['/in', 'application/json', '{"temp": 8}'],
    ]
    for (const [index, [path, type, body]] of bodies.entries()) {
      for (const packed of [false, true]) {
        const headers = [`Authorization: Bearer ${token}`, `Content-Type: ${type}`]
        if (packed) headers.push('Content-Encoding: gzip')
        const status = await curl(server.origin + path, headers, packed ? gzipSync(body) : Buffer.from(body))
        expect([type, status]).toEqual([type, '204'])
        expect((await server.owner.device('bench')).signals[0]?.latest?.value).toBe(index + 1)
      }
    }
  })

  it('may be a backlog of fifty thousand readings, packed', async () => {
    const { token: logger } = await server.owner.createDevice('logger')
    const start = Date.now() - 3_000_000
    const rows = Array.from({ length: 25_000 }, (_, n) => `${start + n * 100},${n},${n % 7}`)
    const answer = await send(server.origin, logger, gzipSync(`t,a,b\n${rows.join('\n')}`), {
      'Content-Type': 'text/csv',
      'Content-Encoding': 'gzip',
    })
    expect([answer.status, answer.body]).toEqual([204, undefined])
    const { body } = await server.owner.call(routes.getDeviceLoss, { params: { address: 'logger' } })
    expect(body.readings).toBe(50_000)
  })

  it('stores four hundred requests at once, each once', async () => {
    await server.owner.createDevice('crowd').then(async ({ token: crowd }) => {
      await send(server.origin, crowd, { n: 0, t: Date.now() - 2_000_000 })
      const start = Date.now() - 1_800_000
      const answers = await Promise.all(
        Array.from({ length: 400 }, (_, n) => send(server.origin, crowd, { n, t: start + n })),
      )
      expect(new Set(answers.map(({ status }) => status))).toEqual(new Set([204]))
      expect(await server.owner.values('crowd', '/n')).toHaveLength(401)
    })
  })
})

describe('a message that is only partly understood', () => {
  it('is answered 200 with what was refused, and the rest is stored', async () => {
    const { status, body } = await post('{"temp": NaN, "relay": true}')
    expect(status).toBe(200)
    expect(body).toEqual({
      stored: 1,
      refusedTotal: 1,
      refused: [{ field: '/temp', reason: expect.stringContaining('was sent as NaN') }],
    })
  })

  it('names the entry of a backlog, and lists no more than a hundred', async () => {
    const { status, body } = await post([{ temp: 1 }, ...Array.from({ length: 150 }, () => ({ temp: 'x' }))])
    expect([status, body.stored, body.refused?.length]).toEqual([200, 1, 100])
    expect(body.refused?.[0]?.field).toBe('/1/temp')
  })
})

describe('a message that cannot be stored', () => {
  const cases: [string, () => ReturnType<typeof post>, number, RegExp][] = [
    [
      'without a credential',
      () => send(server.origin, undefined, { temp: 1 }),
      401,
      /no Authorization header/,
    ],
    [
      'with half a credential',
      () => send(server.origin, 'bench', { temp: 1 }),
      401,
      /neither the credential of a device/,
    ],
    [
      'of an unknown device',
      () => send(server.origin, 'nobody.x', { temp: 1 }),
      401,
      /No device has the address "nobody"/,
    ],
    [
      'with a wrong secret',
      () => send(server.origin, 'bench.wrong', { temp: 1 }),
      401,
      /not the one of "bench"/,
    ],
    ['that is broken JSON', () => post('{"temp": 1'), 400, /closing } was expected at line 1, column 11/],
    ['of two megabytes', () => post(`{"temp": ${'1'.repeat(2_000_000)}}`), 413, /larger than 1024 KiB/],
    [
      'of another content type',
      () => post('temp=1', { 'Content-Type': 'text/x-odd' }),
      415,
      /"text\/x-odd" is not understood/,
    ],
    ['with a text where a number belongs', () => post({ temp: 'warm' }), 422, /the text "warm" was sent/],
    ['with NaN', () => post('{"temp": nan}'), 422, /sent as nan, which is not a number/],
    [
      'from the year 2099',
      () => post({ temp: 1, t: '2099-06-01T00:00:00Z' }),
      422,
      /more than 5 minutes in the future/,
    ],
    ['that is an empty object', () => post({}), 422, /holds no fields/],
  ]

  it.each(cases)('%s is answered with a problem that says so', async (_, act, status, detail) => {
    const answer = await act()
    expect(answer.status).toBe(status)
    expect(answer.headers.get('content-type')).toBe('application/problem+json')
    expect(answer.body).toMatchObject({
      status,
      type: expect.stringMatching(/^\/problems\//),
      detail: expect.stringMatching(detail),
    })
    const page = await fetch(server.origin + answer.body.type)
    expect(await page.text()).toContain(answer.body.title)
  })

  it('by another method is told which one', async () => {
    const answer = await fetch(`${server.origin}/in`)
    expect([answer.status, answer.headers.get('allow')]).toEqual([405, 'POST'])
  })
})

describe('a field nobody has described', () => {
  it('becomes a suggested signal that keeps what came in', async () => {
    const { token: fresh } = await server.owner.createDevice('fresh')
    expect((await send(server.origin, fresh, { soilMoisture: 40, pump: false, note: null })).status).toBe(200)
    const { signals } = await server.owner.device('fresh')
    expect(signals).toMatchObject([
      {
        field: '/soilMoisture',
        name: 'Soil moisture',
        kind: 'number',
        state: 'suggested',
        latest: { value: 40 },
      },
      { field: '/pump', name: 'Pump', kind: 'switch', state: 'suggested', latest: { value: 0 } },
    ])
    await server.owner.accept('fresh', '/soilMoisture')
    expect(await server.owner.values('fresh', '/soilMoisture')).toMatchObject([[expect.any(Number), 40]])
  })

  it('is suggested once, when many messages bring it at the same time', async () => {
    const { token: busy } = await server.owner.createDevice('busy')
    await Promise.all(
      Array.from({ length: 50 }, (_, value) => send(server.origin, busy, { value, [`own${value % 5}`]: 1 })),
    )
    expect((await server.owner.device('busy')).signals).toHaveLength(6)
  })

  it('is refused once forty wait for a decision, so that made-up names do not fill the store', async () => {
    const { token: mad } = await server.owner.createDevice('mad')
    const body = Object.fromEntries(Array.from({ length: 60 }, (_, n) => [`field${n}`, n]))
    const answer = await send(server.origin, mad, body)
    expect([answer.status, answer.body.stored, answer.body.refused?.length]).toEqual([200, 40, 20])
    expect(answer.body.refused?.[0]?.reason).toMatch(/accept or ignore some first/)
  })

  it('is let pass in silence once it was ignored', async () => {
    const { token: quiet } = await server.owner.createDevice('quiet')
    await send(server.origin, quiet, { uptime: 1 })
    const [signal] = (await server.owner.device('quiet')).signals
    await server.owner.call(routes.changeSignalDefinition, {
      params: { definitionId: signal?.definitionId ?? 0 },
      body: { state: 'ignored' },
    })
    expect((await send(server.origin, quiet, { uptime: 2 })).status).toBe(204)
    expect(await server.owner.values('quiet', '/uptime')).toHaveLength(1)
  })
})

describe('two thousand bodies nobody would send', () => {
  it('are all answered, and none breaks the server', async () => {
    const odd = fc.oneof(
      fc.string().map((text) => new TextEncoder().encode(text)),
      fc.uint8Array({ maxLength: 300 }),
      fc.json().map((text) => new TextEncoder().encode(text)),
      fc.json().map((text) => new TextEncoder().encode(text.slice(0, -1))),
      fc
        .dictionary(
          fc.constantFrom('temp', 'relay', 't', 'a', '__proto__', 'é'),
          fc.anything({ maxDepth: 2 }),
        )
        .map((object) =>
          new TextEncoder().encode(
            JSON.stringify(object, (_, value) => (typeof value === 'bigint' ? String(value) : value)),
          ),
        ),
    )
    const bodies = fc.sample(odd, { numRuns: 2000, seed: 7 })
    const statuses = new Map<number, number>()
    for (let start = 0; start < bodies.length; start += 50) {
      for (const { status } of await Promise.all(bodies.slice(start, start + 50).map((body) => post(body)))) {
        statuses.set(status, (statuses.get(status) ?? 0) + 1)
      }
    }
    expect([...statuses.keys()].filter((status) => status >= 500)).toEqual([])
    expect([...statuses.values()].reduce((sum, count) => sum + count)).toBe(2000)
    expect((await post({ temp: 20 })).status).toBe(204)
  })
})
