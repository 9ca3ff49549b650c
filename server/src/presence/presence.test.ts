import { routes } from '@jaunty-sparrow/contract'
import { usualControl } from '@jaunty-sparrow/core/signal'
import { startServer } from '../server.ts'
import { LiveLine } from '../testing/liveLine.ts'
import {
  type ServerUnderTest,
  send,
  serverUnderTest,
  TestPerson,
  testConfig,
} from '../testing/serverUnderTest.ts'

const time = { now: () => Date.now() + ahead }
let ahead = 0
let server: ServerUnderTest
beforeAll(async () => {
  server = await serverUnderTest(time)
})
afterAll(() => server.close())

/** Waits until it is told that a device dropped out, or that it is back. */
const dropOut = (line: LiveLine, isOver: boolean) =>
  line.hear(
    (frame) =>
      (frame.kind === 'event' &&
        frame.event.kind === 'drop-out' &&
        (frame.event.until !== null) === isOver) ||
      undefined,
  )

it('tells a dead probe on a living board, a silent board, and one that is back', async () => {
  const { owner } = server
  const { body: kit } = await owner.call(routes.createKit, {
    body: {
      name: 'Vat',
      cadence: { by: 'always', seconds: 10 },
      signals: [
        { field: '/top', name: 'Top', kind: 'number' },
        { field: '/bottom', name: 'Bottom', kind: 'number' },
        { field: '/lid', name: 'Lid', kind: 'switch', cadence: { by: 'event' } },
      ],
    },
  })
  const { token } = await owner.createDevice('vat', kit.id)
  const does = async () => {
    const { presence, signals } = await owner.device('vat')
    return [presence, ...signals.map((signal) => signal.presence)]
  }
  expect(await does()).toEqual(['never', 'never', 'never', 'never'])
  await send(server.origin, token, { top: 4, bottom: 5, lid: false })
  expect(await does()).toEqual(['on-time', 'on-time', 'on-time', 'on-time'])
  ahead += 60_000
  await send(server.origin, token, { top: 4 })
  expect(await does()).toEqual(['on-time', 'on-time', 'late', 'on-time'])
  ahead += 30_000
  // A refused message is a sign of life too.
  await send(server.origin, token, { top: 'broken' })
  expect(await does()).toEqual(['on-time', 'late', 'silent', 'on-time'])
  const line = await LiveLine.open(server.origin, owner.cookie, { presence: true })
  const lastHeard = (await owner.device('vat')).heardAt ?? 0
  ahead += 90_000
  const events = async () =>
    (await owner.call(routes.listEvents, { query: { from: 0, to: time.now() + 1000, kind: 'drop-out' } }))
      .body
  await dropOut(line, false)
  expect(await does()).toEqual(['silent', 'silent', 'silent', 'silent'])
  const { id } = await owner.device('vat')
  expect(await events()).toMatchObject([{ at: lastHeard, until: null, deviceId: id, kind: 'drop-out' }])
  await send(server.origin, token, { top: 4 })
  await dropOut(line, true)
  line.close()
  expect((await events())[0]?.until).toBe((await owner.device('vat')).heardAt)
})

it('says nothing of devices that nobody could hear, and remembers over a restart who had dropped out', async () => {
  const { owner } = server
  const { body: kit } = await owner.call(routes.createKit, {
    body: { name: 'Mast', cadence: { by: 'always', seconds: 10 }, signals: [] },
  })
  const mute = await owner.createDevice('mute', kit.id)
  await send(server.origin, mute.token, { a: 1 })
  const line = await LiveLine.open(server.origin, owner.cookie, { presence: true })
  ahead += 100_000
  const spoken = await owner.createDevice('spoken', kit.id)
  await send(server.origin, spoken.token, { a: 1 })
  await dropOut(line, false)
  line.close()
  await server.close()
  ahead += 3_600_000
  const again = await startServer(testConfig(server.databaseUrl), { webRoot: undefined, now: time.now })
  const person = new TestPerson(again.url)
  person.cookie = owner.cookie
  expect((await person.device('mute')).presence).toBe('silent')
  expect((await person.device('spoken')).presence).toBe('on-time')
  const { body } = await person.call(routes.listEvents, {
    query: { from: 0, to: time.now() + 1000, kind: 'server-away' },
  })
  expect(body).toMatchObject([{ server: 'test', kind: 'server-away', until: expect.any(Number) }])
  await again.close()
  server = { ...server, close: async () => undefined }
})

describe('what a device is told of itself', () => {
  const others: { readonly close: () => Promise<void> }[] = []
  afterEach(async () => {
    for (const each of others.splice(0)) await each.close()
  })
  const usual = { ...usualControl, unless: [] }
  const told = (origin: string, address: string, token: string) => {
    const post = (path: string, body: object) =>
      fetch(`${origin}${path}`, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json', Authorization: `Bearer ${token}` },
        body: JSON.stringify(body),
      })
    return { address, take: (body: object) => post('/in?commands', body), post }
  }

  it('is not late once it was shut down, says how it returns, and is back when it is heard', async () => {
    const first = await serverUnderTest(time)
    const { owner } = first
    const { body: kit } = await owner.call(routes.createKit, {
      body: {
        name: 'Gateway',
        cadence: { by: 'always', seconds: 10 },
        signals: [
          { field: '/load', name: 'Load', kind: 'number' },
          {
            field: '/down',
            name: 'Shut down',
            kind: 'momentary',
            origin: 'controlled',
            control: { ...usual, holds: true, shutsDown: 'by its plug' },
          },
        ],
      },
    })
    const { address, token } = await owner.createDevice('gateway', kit.id)
    const board = told(first.origin, address, token)
    await send(first.origin, token, { load: 1 })
    const { signals } = await owner.device(address)
    const down = signals.find(({ name }) => name === 'Shut down')?.id ?? 0
    const { body } = await owner.call(routes.requestCommands, { body: { signals: [down], value: 1 } })
    const id = body[0]?.command?.id
    await board.take({ load: 1 })
    expect((await board.post('/state/down', { id, says: 'done' })).status).toBe(204)
    // What it still says on its way down is no sign that it is back.
    ahead += 20_000
    await send(first.origin, token, { load: 0 })
    ahead += 3_600_000
    expect(await owner.device(address)).toMatchObject({ presence: 'down' })
    await first.close()

    const second = await startServer(testConfig(first.databaseUrl), { webRoot: undefined, now: time.now })
    others.push(second)
    const again = new TestPerson(second.url)
    again.cookie = owner.cookie
    expect(await again.device(address)).toMatchObject({ presence: 'down' })
    await send(second.url, token, { load: 1 })
    expect(await again.device(address)).toMatchObject({ presence: 'on-time' })
    ahead += 60_000
    expect(await again.device(address)).toMatchObject({ presence: 'late' })
  })

  it('is expected as often as it says itself that it speaks', async () => {
    const own = await serverUnderTest(time)
    others.push(own)
    const { owner, origin } = own
    const { body: kit } = await owner.call(routes.createKit, {
      body: {
        name: 'Slow',
        cadence: { by: 'always', seconds: 10 },
        signals: [
          {
            field: '/every',
            name: 'Send interval',
            kind: 'number',
            unit: 'min',
            origin: 'controlled',
            range: { low: 1, high: 60 },
            control: { ...usual, setsInterval: true },
          },
        ],
      },
    })
    const { token, address } = await owner.createDevice('slow', kit.id)
    await send(origin, token, { every: 5 })
    ahead += 10 * 60_000
    expect(await owner.device(address)).toMatchObject({
      presence: 'on-time',
      cadence: { cadence: { by: 'always', seconds: 300 } },
    })
    ahead += 60_000
    expect(await owner.device(address)).toMatchObject({ presence: 'late' })
    const { status } = await owner.ask(routes.createKit, {
      body: {
        name: 'Wrong',
        cadence: null,
        signals: [
          {
            field: '/every',
            name: 'Send interval',
            kind: 'number',
            unit: 'Cel',
            origin: 'controlled',
            control: { ...usual, setsInterval: true },
          },
        ],
      },
    })
    expect(status).toBe(400)
  })
})
