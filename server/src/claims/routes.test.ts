import { execFile } from 'node:child_process'
import { promisify } from 'node:util'
import { routes } from '@jaunty-sparrow/contract'
import { writeCredential } from '@jaunty-sparrow/core/device'
import { type ServerUnderTest, send, serverUnderTest, type TestPerson } from '../testing/serverUnderTest.ts'

const run = promisify(execFile)

let server: ServerUnderTest
let owner: TestPerson
let secret: string
let bridge: number
beforeAll(async () => {
  server = await serverUnderTest()
  owner = server.owner
  secret = (await owner.createDevice('bridge')).secret
  bridge = (await owner.device('bridge')).id
})
afterAll(() => server.close())

const publish = (topic: string, message: string) =>
  run('mosquitto_pub', [
    ...['-h', '127.0.0.1', '-p', String(server.mqttPort), '-u', 'bridge', '-P', secret],
    ...['-q', '1', '-t', topic, '-m', message],
  ])

const latest = async (address: string, field: string) =>
  (await owner.device(address)).signals.find((signal) => signal.field === field)?.latest?.value

const claim = (body: object) =>
  owner.call(routes.createClaim, {
    body: { keyId: bridge, by: 'topic', place: '', value: null, part: '', deviceId: null, ...body } as never,
  })

const unclaimed = async () => (await owner.call(routes.listUnclaimed)).body

describe('a key that may publish elsewhere', () => {
  beforeAll(() => owner.limit('bridge', { reach: ['garden/#', 'sparrow/+/in/#'] }))

  it('is kept until its topic is claimed, and then counts, what was kept included', async () => {
    await owner.createDevice('bed')
    await publish('garden/bed-2/soil', '{"top": 31, "note": null}')
    await publish('garden/bed-2/air', '18.5')
    expect(await unclaimed()).toMatchObject([
      { keyId: bridge, sender: 'bridge', topic: 'garden/bed-2/air', messages: 1, sample: '18.5' },
      { topic: 'garden/bed-2/soil', messages: 1 },
    ])
    expect((await owner.device('bridge')).signals).toEqual([])

    const deviceId = (await owner.device('bed')).id
    const { body } = await claim({ place: 'garden/bed-2/#', deviceId, part: 'east' })
    expect(body).toMatchObject({ messages: 2, readings: 2 })
    expect(await unclaimed()).toEqual([])
    expect(await latest('bed', '/east/soil/top')).toBe(31)
    expect(await latest('bed', '/east/air')).toBe(18.5)
    const kept = await owner.arrival(({ topic }) => topic === 'garden/bed-2/soil')
    expect(kept).toMatchObject({ deviceId, sender: 'bridge', outcome: 'partly', tail: 'east/soil' })
    const { body: opened } = await owner.call(routes.getArrival, {
      params: { arrivalId: kept.id },
      query: { deviceId },
    })
    expect(opened.explanation?.fields[0]).toMatchObject({ address: 'bed', pointer: '/east/soil/top' })

    await publish('garden/bed-2/air', '19.5')
    expect(await latest('bed', '/east/air')).toBe(19.5)
  })

  it('speaks for whom the topic names', async () => {
    await owner.createDevice('bed-7')
    await claim({ place: 'sparrow/{device}/in/{field}' })
    await publish('sparrow/bed-7/in/light', '400')
    expect(await latest('bed-7', '/light')).toBe(400)
    await publish('sparrow/nobody/in/light', '400')
    expect(await unclaimed()).toMatchObject([{ topic: 'sparrow/nobody/in/light' }])
  })

  it('may not publish to what other devices listen to, nor beyond its reach', async () => {
    await publish('sparrow/bed-7/set/valve', '1').catch(() => undefined)
    await publish('attic/temp', '1').catch(() => undefined)
    await owner.arrival(({ reason }) => reason.includes('not to attic/temp'))
    await owner.arrival(({ reason }) => reason.includes('not to sparrow/bed-7/set/valve'))
  })

  it('goes on being kept when the claim is given up', async () => {
    const { body } = await owner.call(routes.listClaims)
    const [first] = body
    await owner.call(routes.deleteClaim, { params: { claimId: first?.id ?? 0 } })
    await publish('garden/bed-2/air', '20')
    expect(await latest('bed', '/east/air')).toBe(19.5)
    expect((await unclaimed()).map(({ topic }) => topic)).toContain('garden/bed-2/air')
  })
})

describe('a gateway whose records say whose they are', () => {
  it('speaks for each of them, and is told of those nobody knows', async () => {
    const { token } = await owner.createDevice('gateway')
    for (const address of ['shed', 'barn']) await owner.createDevice(address)
    const keyId = (await owner.device('gateway')).id
    const deviceId = (await owner.device('shed')).id
    await claim({ keyId, by: 'field', place: '/id', value: 'A1', deviceId })
    await claim({ keyId, by: 'field', place: '/id' })
    const answer = await send(server.origin, token, [
      { id: 'A1', temp: 5 },
      { id: 'barn', temp: 6 },
      { id: 'cellar', temp: 7 },
      { temp: 8 },
    ])
    expect(answer).toMatchObject({
      status: 200,
      body: {
        stored: 3,
        refused: [{ field: '/2/temp', reason: 'no device has the address "cellar" here' }],
      },
    })
    expect(await latest('shed', '/temp')).toBe(5)
    expect(await latest('barn', '/temp')).toBe(6)
    expect(await latest('gateway', '/temp')).toBe(8)
    expect((await owner.device('shed')).signals).toHaveLength(1)
  })
})

describe('a gateway’s record of something nobody has claimed', () => {
  it('is not the gateway’s own: it is kept, and counts once it is claimed', async () => {
    const { token } = await owner.createDevice('relay')
    await owner.createDevice('attic')
    const keyId = (await owner.device('relay')).id
    const deviceId = (await owner.device('attic')).id
    await claim({
      keyId,
      by: 'field',
      place: '/id',
      value: 'known',
      deviceId: (await owner.device('bed')).id,
    })
    expect((await send(server.origin, token, [{ id: 'strange', temp: 3 }])).status).toBe(204)
    const mixed = await send(server.origin, token, [
      { id: 'strange', temp: 4 },
      { id: 'known', temp: 5 },
    ])
    expect(mixed.body).toMatchObject({
      stored: 1,
      refused: [
        { field: '/0/id', reason: expect.stringContaining('nobody has claimed "strange"') },
        { field: '/0/temp' },
      ],
    })
    expect((await owner.device('relay')).signals).toEqual([])
    expect(await unclaimed()).toContainEqual(
      expect.objectContaining({ keyId, sender: 'relay', topic: '', messages: 1 }),
    )
    const { body } = await claim({ keyId, by: 'field', place: '/id', value: 'strange', deviceId })
    expect(body).toMatchObject({ messages: 1, readings: 1 })
    expect(await latest('attic', '/temp')).toBe(3)
  })
})

describe('an address nobody has', () => {
  it('is seen knocking, and what it sent counts once its device is made', async () => {
    const token = writeCredential({ address: 'newcomer', secret: 'x'.repeat(32) })
    expect((await send(server.origin, token, { temp: 12 })).status).toBe(401)
    await owner.arrival(({ sender, outcome }) => sender === 'newcomer' && outcome === 'unclaimed')
    expect(await unclaimed()).toContainEqual(
      expect.objectContaining({ keyId: null, sender: 'newcomer', topic: '', sample: '{"temp":12}' }),
    )
    const [site] = (await owner.call(routes.listSites)).body
    await owner.call(routes.createDevice, {
      body: { name: 'Newcomer', address: 'newcomer', siteId: site?.id ?? 0, takeUnclaimed: true },
    })
    expect(await latest('newcomer', '/temp')).toBe(12)
    expect((await unclaimed()).map(({ sender }) => sender)).not.toContain('newcomer')
  })
})

describe('a claim that cannot be', () => {
  it.each([
    [{ place: 'a/#/b', deviceId: 1 }, /last level/],
    [{ place: 'a/b' }, /Choose a device/],
    [{ place: '{device}/b', deviceId: 1 }, /one of the two/],
    [{ by: 'field', place: 'id' }, /JSON Pointer/],
    [{ by: 'field', place: '/id', value: 'x' }, /neither/],
    [{ place: 'a/b', deviceId: 999_999 }, /does not exist/],
  ])('%j is refused with a reason', async (body, reason) => {
    expect((await claim(body)).body).toMatchObject({ detail: expect.stringMatching(reason) })
  })
})
