import { type QueryOf, routes } from '@jaunty-sparrow/contract'
import { type ServerUnderTest, send, serverUnderTest } from '../testing/serverUnderTest.ts'

let server: ServerUnderTest
let token: string
beforeAll(async () => {
  server = await serverUnderTest()
  token = (await server.owner.createDevice('bench')).token
})
afterAll(() => server.close())

const list = async (query: QueryOf<typeof routes.listArrivals> = {}) =>
  (await server.owner.call(routes.listArrivals, { query })).body
const open = async (id: number, deviceId: number | null) => {
  const query = deviceId === null ? {} : { deviceId }
  return server.owner.call(routes.getArrival, { params: { arrivalId: id }, query })
}

describe('what came in', () => {
  it('is listed with what became of it, the newest first, and can be read byte for byte', async () => {
    const body = '{"temp": 21.5, "odd": null}'
    await send(server.origin, token, body)
    await send(server.origin, token, '{"temp": 22}')
    const [newest, partly] = await list()
    expect(newest).toMatchObject({
      sender: 'bench',
      door: 'http',
      outcome: 'stored',
      stored: 1,
      size: 12,
      reason: '',
    })
    expect(partly).toMatchObject({ outcome: 'partly', stored: 1, reason: expect.stringContaining('"odd"') })
    const { body: opened } = await open(partly?.id ?? 0, partly?.deviceId ?? null)
    expect(Buffer.from(opened.body, 'base64').toString()).toBe(body)
    expect(opened.explanation?.fields).toMatchObject([
      {
        pointer: '/temp',
        raw: '21.5',
        signal: { name: 'Temp', state: 'suggested' },
        reading: { value: 21.5 },
      },
      { pointer: '/odd', problem: expect.stringContaining('"odd"') },
    ])
  })

  it('is explained by what the signals are now, not by what they were', async () => {
    const before = (await list())[0]
    await server.owner.accept('bench', '/temp')
    const { body } = await open(before?.id ?? 0, before?.deviceId ?? null)
    expect(body.explanation?.fields[0]?.signal?.state).toBe('accepted')
  })

  it('is found by outcome, device and text', async () => {
    const device = await server.owner.device('bench')
    await server.owner.createDevice('silent')
    const silent = await server.owner.device('silent')
    expect((await list({ outcome: 'partly' })).map(({ outcome }) => outcome)).toEqual(['partly'])
    expect(await list({ deviceId: silent.id })).toEqual([])
    expect((await list({ deviceId: device.id })).length).toBeGreaterThan(1)
    expect(await list({ text: '"temp": 22' })).toHaveLength(1)
    const [newest, next] = await list()
    expect((await list({ before: newest?.id ?? 0, limit: 1 }))[0]?.id).toBe(next?.id)
  })

  it('from a stranger is there as well, with whom it said to be', async () => {
    await send(server.origin, 'bench.wrong', '{}')
    const found = await list({ outcome: 'refused', text: 'secret' })
    expect(found).toMatchObject([
      { deviceId: null, sender: 'bench', reason: expect.stringMatching(/It came from .*127\.0\.0\.1/) },
    ])
    const { body } = await open(found[0]?.id ?? 0, null)
    expect(body).toMatchObject({ body: '', explanation: null })
  })

  it('that is not kept is said not to be', async () => {
    expect((await open(1, 1)).status).toBe(404)
  })
})

describe('trying a message', () => {
  const attempt = async (text: string, mediaType = 'application/json', tail = '') =>
    (
      await server.owner.call(routes.tryMessage, {
        body: { address: 'bench', door: 'http', mediaType, tail, topic: '', text },
      })
    ).body

  it('tells what would become of it, and stores nothing', async () => {
    const before = await list()
    expect((await attempt('{"temp": "warm"}')).fields).toMatchObject([
      { problem: expect.stringContaining('"warm"') },
    ])
    expect((await attempt('9', 'text/plain', 'temp')).fields).toMatchObject([{ reading: { value: 9 } }])
    expect(await attempt('{"temp"')).toMatchObject({
      failure: expect.stringContaining('not JSON'),
      fields: [],
    })
    expect(await attempt('x', 'image/png')).toMatchObject({
      failure: expect.stringContaining('not understood'),
    })
    expect(await attempt('{}')).toMatchObject({ failure: expect.stringContaining('no fields') })
    expect(await list()).toEqual(before)
  })

  it('lists the first two hundred fields of a long one', async () => {
    const rows = Array.from({ length: 300 }, (_, n) => n).join('\n')
    const explained = await attempt(`temp\n${rows}`, 'text/csv')
    expect([explained.fields.length, explained.fieldsTotal]).toEqual([200, 300])
  })
})

describe('a message that is tried through another door', () => {
  const attempt = async (door: 'mqtt' | 'serial', topic: string, text: string) =>
    (
      await server.owner.call(routes.tryMessage, {
        body: { address: 'bench', door, mediaType: '', tail: '', topic, text },
      })
    ).body

  it('is explained by its topic', async () => {
    expect(await attempt('mqtt', 'sparrow/bench/in/level', '4')).toMatchObject({
      failure: null,
      fields: [{ pointer: '/level', raw: '4' }],
    })
    expect((await attempt('mqtt', 'garden/bed', '4')).failure).toMatch(
      /may publish below sparrow\/bench\/ only/,
    )
    expect((await attempt('mqtt', 'sparrow/bench/presence', 'on')).failure).toMatch(/for others who listen/)
    await server.owner.limit('bench', { reach: ['garden/#'] })
    expect((await attempt('mqtt', 'garden/bed', '4')).failure).toMatch(/would be kept as unclaimed/)
  })

  it('is read as a line a board prints', async () => {
    expect(await attempt('serial', '', 'level=4 temp=5')).toMatchObject({
      fields: [{ pointer: '/level' }, { pointer: '/temp' }],
    })
  })
})
