import { routes } from '@jaunty-sparrow/contract'
import pg from 'pg'
import { type ServerUnderTest, send, serverUnderTest } from '../testing/serverUnderTest.ts'

let server: ServerUnderTest
beforeAll(async () => {
  server = await serverUnderTest()
})
afterAll(() => server.close())

const cave = {
  name: 'Cave node',
  cadence: { by: 'always', seconds: 30 },
  signals: [
    { field: '/humidity', name: 'Humidity', kind: 'number', unit: '%', range: { low: 0, high: 100 } },
  ],
} as const

describe('a device', () => {
  it('keeps its address to itself', async () => {
    await server.owner.createDevice('twin')
    const [site] = (await server.owner.call(routes.listSites)).body
    const again = await server.owner.call(routes.createDevice, {
      body: { name: 'Other', address: 'twin', siteId: site?.id ?? 0 },
    })
    expect([again.status, again.body]).toEqual([
      409,
      expect.objectContaining({ detail: expect.stringContaining('"twin" belongs to another') }),
    ])
  })

  it.each(['Upper', 'two--hyphens', '-x', 'with space', 'a.b', ''])(
    'cannot have the address %j',
    async (address) => {
      const { status } = await server.owner.call(routes.createDevice, {
        body: { name: 'X', address, siteId: 1 },
      })
      expect(status).toBe(400)
    },
  )

  it('can be renamed, and goes on speaking under its address', async () => {
    const { token } = await server.owner.createDevice('renamed')
    await server.owner.call(routes.changeDevice, {
      params: { address: 'renamed' },
      body: { name: 'Whey pump' },
    })
    expect((await send(server.origin, token, { a: 1 })).status).toBe(204)
    expect((await server.owner.device('renamed')).name).toBe('Whey pump')
  })

  it('is turned away with its old secret the moment it has a new one', async () => {
    const { token } = await server.owner.createDevice('rekeyed')
    const { body } = await server.owner.call(routes.replaceSecret, { params: { address: 'rekeyed' } })
    expect((await send(server.origin, token, { a: 1 })).status).toBe(401)
    expect((await send(server.origin, `rekeyed.${body.secret}`, { a: 1 })).status).toBe(204)
  })

  it('may write its own signals only', async () => {
    const { secret } = await server.owner.createDevice('own')
    await server.owner.createDevice('other')
    expect((await send(server.origin, `other.${secret}`, { a: 1 })).status).toBe(401)
  })

  it('learns how often it speaks', async () => {
    const { token } = await server.owner.createDevice('steady')
    for (let n = 0; n < 5; n++) await send(server.origin, token, { n })
    expect((await server.owner.device('steady')).cadence).toEqual({
      cadence: { by: 'always', seconds: expect.any(Number) },
      source: 'learned',
    })
  })

  it('takes its readings with it when it is deleted, and says so before', async () => {
    const { token } = await server.owner.createDevice('leaving')
    const t = Date.now() - 1000
    await send(server.origin, token, [{ a: 1, b: 2, t }, { a: 3 }])
    const { body: loss } = await server.owner.call(routes.getDeviceLoss, { params: { address: 'leaving' } })
    expect(loss).toEqual({ signals: 2, readings: 3, firstAt: t })
    const { id, signals: own } = await server.owner.device('leaving')
    const signals = own.map((signal) => signal.id)
    await server.owner.call(routes.deleteDevice, { params: { address: 'leaving' } })
    expect((await send(server.origin, token, { a: 1 })).body.detail).toMatch(
      /No device has the address "leaving"/,
    )
    const client = new pg.Client({ connectionString: server.databaseUrl })
    await client.connect()
    const { rows } = await client.query(
      `select (select count(*)::int from reading where signal_id = any($1)) as readings,
        (select count(*)::int from message where device_id = $2) as messages,
        (select count(*)::int from signal where id = any($1)) as signals,
        (select count(*)::int from kit left join device on device.kit_id = kit.id where device.id is null and kit.name is null) as kits`,
      [signals, id],
    )
    await client.end()
    expect(rows).toEqual([{ readings: 0, messages: 0, signals: 0, kits: 0 }])
  })

  it('that does not exist is said not to', async () => {
    const { status } = await server.owner.call(routes.getDeviceLoss, { params: { address: 'ghost' } })
    expect(status).toBe(404)
  })
})

describe('a kit', () => {
  it('describes signals once for all its devices, and a change reaches them all', async () => {
    const { body: kit } = await server.owner.call(routes.createKit, {
      body: { ...cave, signals: [...cave.signals] },
    })
    const { token } = await server.owner.createDevice('cave-a', kit.id)
    await server.owner.createDevice('cave-b', kit.id)
    await send(server.origin, token, { humidity: 104, co2: 800 })
    const [a, b] = [await server.owner.device('cave-a'), await server.owner.device('cave-b')]
    expect(a.cadence).toEqual({ cadence: { by: 'always', seconds: 30 }, source: 'stated' })
    expect(a.signals).toMatchObject([
      { name: 'Humidity', latest: { value: 104, quality: 1 } },
      { name: 'Co 2', state: 'suggested' },
    ])
    expect(b.signals.map(({ latest }) => latest)).toEqual([null, null])
    const definitionId = b.signals[1]?.definitionId ?? 0
    await server.owner.call(routes.changeSignalDefinition, {
      params: { definitionId },
      body: { name: 'CO₂', unit: '[ppm]', state: 'accepted' },
    })
    for (const address of ['cave-a', 'cave-b']) {
      expect((await server.owner.device(address)).signals[1]).toMatchObject({
        name: 'CO₂',
        unit: '[ppm]',
        state: 'accepted',
      })
    }
  })

  it('knows the units it offers, and no others', async () => {
    const { signals } = await server.owner.device('cave-a')
    const params = { definitionId: signals[0]?.definitionId ?? 0 }
    const { status } = await server.owner.call(routes.changeSignalDefinition, {
      params,
      body: { unit: 'furlong' },
    })
    expect(status).toBe(400)
  })
})

describe('a field that was renamed in the firmware', () => {
  const remap = async (address: string, from: string, field: string) => {
    const signal = (await server.owner.device(address)).signals.find((candidate) => candidate.field === from)
    const params = { definitionId: signal?.definitionId ?? 0 }
    return server.owner.call(routes.changeSignalDefinition, { params, body: { field } })
  }

  it('is given to its signal, with what was stored under the new name meanwhile', async () => {
    const { token } = await server.owner.createDevice('renaming')
    const t = Date.now() - 60_000
    await send(server.origin, token, { temp: 1, t })
    await server.owner.accept('renaming', '/temp')
    await send(server.origin, token, [
      { temprature: 2, t: t + 1000 },
      { temprature: 9, t },
    ])
    expect((await remap('renaming', '/temp', '/temprature')).status).toBe(204)
    await send(server.origin, token, { temprature: 3, t: t + 2000 })
    const { signals } = await server.owner.device('renaming')
    expect(signals).toMatchObject([
      { name: 'Temp', field: '/temprature', state: 'accepted', latest: { value: 3 } },
    ])
    // Both had a reading of the first instant: the signal's own stays.
    expect((await server.owner.values('renaming', '/temprature')).map(([, value]) => value)).toEqual([
      1, 2, 3,
    ])
  })

  it('may be read by several signals, but not by one of another kind', async () => {
    const { token } = await server.owner.createDevice('quarrel')
    await send(server.origin, token, { a: 1, b: 2, c: true })
    await server.owner.accept('quarrel', '/a')
    await server.owner.accept('quarrel', '/b')
    expect((await remap('quarrel', '/a', '/b')).status).toBe(204)
    await send(server.origin, token, { b: 5 })
    expect((await server.owner.device('quarrel')).signals).toMatchObject([
      { name: 'A', field: '/b', latest: { value: 5 } },
      { name: 'B', field: '/b', latest: { value: 5 } },
      { name: 'C' },
    ])
    const switched = await remap('quarrel', '/b', '/c')
    expect(switched.body).toMatchObject({ detail: expect.stringContaining('holds a switch') })
    expect((await server.owner.device('quarrel')).signals).toHaveLength(3)
  })
})

describe('a site', () => {
  it('has a name of its own and a real time zone', async () => {
    const create = (name: string, timeZone: string) =>
      server.owner.call(routes.createSite, { body: { name, timeZone } })
    expect((await create('Barn', 'Europe/Paris')).status).toBe(201)
    expect((await create('Barn', 'Europe/Paris')).status).toBe(409)
    expect((await create('Loft', 'Mars/Olympus')).body).toMatchObject({
      detail: expect.stringContaining('IANA time zone'),
    })
    expect((await create('Loft', '+01:00')).status).toBe(400)
  })

  it('can be deleted only when nothing stands on it', async () => {
    const { body: site } = await server.owner.call(routes.createSite, {
      body: { name: 'Field', timeZone: 'UTC' },
    })
    const workshop = (await server.owner.call(routes.listSites)).body.find(({ name }) => name === 'Workshop')
    const remove = (siteId: number) => server.owner.call(routes.deleteSite, { params: { siteId } })
    expect((await remove(workshop?.id ?? 0)).status).toBe(409)
    expect((await remove(site.id)).status).toBe(204)
    expect((await remove(site.id)).status).toBe(404)
  })
})

describe('a trace', () => {
  it.each([
    { signals: '1', from: 0, to: 1e15, columns: 100 },
    { signals: '1', from: 5, to: 5, columns: 100 },
    { signals: 'x', from: 0, to: 5, columns: 100 },
  ])('cannot be had for %j', async (query) => {
    expect((await server.owner.call(routes.getTraces, { query })).status).toBe(400)
  })
})

describe('the operators’ pages', () => {
  it('say that the server is alive and ready, and what its API is', async () => {
    const [alive, ready, api] = await Promise.all(
      ['/healthz', '/readyz', '/api/openapi.json'].map((path) => fetch(server.origin + path)),
    )
    expect([alive?.status, ready?.status]).toEqual([200, 200])
    expect(await api?.json()).toMatchObject({ openapi: '3.1.0' })
  })

  it('say what is not there', async () => {
    expect((await fetch(`${server.origin}/api/nothing`)).status).toBe(404)
  })
})
