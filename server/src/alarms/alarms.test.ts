import { type AlarmMove, type BodyOf, type NewSignalDefinition, routes } from '@jaunty-sparrow/contract'
import type { Alarm, Limits } from '@jaunty-sparrow/core/signal'
import { type ServerUnderTest, send, serverUnderTest } from '../testing/serverUnderTest.ts'

const minute = 60_000
const none: Limits = {
  lowLow: null,
  low: null,
  high: null,
  highHigh: null,
  deadband: 0,
  onDelay: 0,
  offDelay: 0,
}
const alarm = (key: string, occasion: Alarm['occasion'], more: Partial<Alarm> = {}): Alarm => ({
  key,
  name: '',
  occasion,
  priority: 'important',
  reason: '',
  cause: 'the fogger is off',
  consequence: 'the rind dries',
  response: 'look whether the fogger runs',
  timeToAct: 7200,
  isLatching: false,
  unless: null,
  ...more,
})
const signals: NewSignalDefinition[] = [
  {
    field: '/warm',
    name: 'Temperature',
    kind: 'number',
    unit: 'Cel',
    limits: { ...none, high: 8, highHigh: 12, deadband: 0.5 },
    faults: [{ value: 999, name: 'no sensor' }],
    alarms: [
      alarm('high', { by: 'limit', limit: 'high' }),
      alarm('high-high', { by: 'limit', limit: 'highHigh' }, { priority: 'urgent' }),
      alarm('fault', { by: 'fault', atLeast: 0 }),
      alarm('rate', { by: 'rate', most: 20, over: 60 }),
    ],
  },
  {
    field: '/damp',
    name: 'Humidity',
    kind: 'number',
    unit: '%',
    limits: { ...none, low: 82, onDelay: 300, offDelay: 60 },
    alarms: [
      alarm(
        'low',
        { by: 'limit', limit: 'low' },
        {
          unless: {
            says: 'it is being washed down',
            formula: 'w == 1',
            inputs: [{ name: 'w', of: { named: 'Hose' } }],
            after: 600,
          },
        },
      ),
    ],
  },
  {
    field: '/door',
    name: 'Door',
    kind: 'switch',
    alarms: [alarm('open', { by: 'state', values: [1], atLeast: 600 }, { isLatching: true })],
  },
  { field: '/hose', name: 'Hose', kind: 'switch' },
  {
    field: '/dew',
    name: 'Dew',
    kind: 'number',
    alarms: [
      alarm('wet', {
        by: 'formula',
        formula: 't < d + 1',
        inputs: [
          { name: 't', of: { named: 'Temperature' } },
          { name: 'd', of: { named: 'Dew' } },
        ],
        atLeast: 0,
      }),
    ],
  },
]

const ahead = 0
let server: ServerUnderTest
let kitId: number
let count = 0
const now = () => Date.now() + ahead

beforeAll(async () => {
  server = await serverUnderTest({ now })
  const { body } = await server.owner.call(routes.createKit, {
    body: { name: 'Cave', cadence: { by: 'always', seconds: 30 }, signals },
  })
  kitId = body.id
})
afterAll(() => server.close())

/** A board, with the numbers of its signals by their names. */
async function board(owner = server.owner, kit = kitId, url = server.origin) {
  const { address, token } = await owner.createDevice(`board-${++count}`, kit)
  const { signals: made, siteId, id } = await owner.device(address)
  const idOf = (name: string) => made.find((signal) => signal.name === name)?.id ?? 0
  return {
    id,
    address,
    siteId,
    idOf,
    says: (message: object | readonly object[]) => send(url, token, message),
    alarm: (name: string, key: string) => `${idOf(name)}.${key}`,
  }
}

const standing = async (id: string, owner = server.owner) =>
  (await owner.call(routes.getAlarm, { params: { alarmId: id } })).body
const acts = async (id: string, owner = server.owner) =>
  (await owner.call(routes.listAlarmActs, { params: { alarmId: id }, query: {} })).body.reverse()
const move = (
  ids: readonly string[],
  what: AlarmMove,
  more: Partial<BodyOf<typeof routes.moveAlarms>> = {},
  owner = server.owner,
) => owner.call(routes.moveAlarms, { body: { alarms: [...ids], move: what, ...more } })

/** Waits until an alarm is in a state. */
const until = (id: string, state: string, owner = server.owner) =>
  owner.until(
    () => standing(id, owner),
    (found) => found.state === state,
  )

it('raises beyond a limit, and says what to do', async () => {
  const { says, alarm: id, idOf } = await board()
  await says({ warm: 7 })
  await says({ warm: 9.3 })
  const raised = await until(id('Temperature', 'high'), 'unacknowledged')
  expect(raised).toMatchObject({
    signalId: idOf('Temperature'),
    value: 9.3,
    limit: 8,
    isActive: true,
    alarm: { response: 'look whether the fogger runs', timeToAct: 7200 },
  })
  await move([raised.id], 'acknowledge', { word: 'on my way' })
  expect(await standing(raised.id)).toMatchObject({
    state: 'acknowledged',
    acknowledged: { person: 'Ines Marlow', word: 'on my way' },
  })
  await says({ warm: 7.8 })
  await says({ warm: 7.2 })
  await until(raised.id, 'normal')
  expect((await acts(raised.id)).map((act) => [act.move, act.state, act.person])).toEqual([
    ['raise', 'unacknowledged', null],
    ['acknowledge', 'acknowledged', 'Ines Marlow'],
    ['return', 'normal', null],
  ])
})

it('returns unseen, and waits for a word all the same', async () => {
  const { says, alarm: id } = await board()
  await says({ warm: 9 })
  await until(id('Temperature', 'high'), 'unacknowledged')
  await says({ warm: 5 })
  const { returnedAt } = await until(id('Temperature', 'high'), 'returned')
  expect(returnedAt).not.toBeNull()
  await move([id('Temperature', 'high')], 'acknowledge')
  expect((await standing(id('Temperature', 'high'))).state).toBe('normal')
})

it('tells one cause as one alarm: the outer limit explains the inner one', async () => {
  const { says, alarm: id } = await board()
  await says({ warm: 13 })
  await until(id('Temperature', 'high-high'), 'unacknowledged')
  await until(id('Temperature', 'high'), 'unacknowledged')
  const { body } = await server.owner.call(routes.listAlarms)
  const of = (key: string) => body.alarms.find((each) => each.id === id('Temperature', key))
  expect(of('high-high')?.causedBy).toBeNull()
  expect(of('high')?.causedBy).toBe(id('Temperature', 'high-high'))
  const isOne = body.alarms.filter((each) => each.state === 'unacknowledged' && each.causedBy === null)
  expect(body.counts.unacknowledged).toBe(isOne.length)
})

it('knows a sensor at fault, and a change that is too fast', async () => {
  const { says, alarm: id } = await board()
  await says({ warm: 3 })
  await says({ warm: 999 })
  await until(id('Temperature', 'fault'), 'unacknowledged')
  await says({ warm: -18 })
  await until(id('Temperature', 'rate'), 'unacknowledged')
  await until(id('Temperature', 'fault'), 'returned')
})

it('is over several signals by a formula', async () => {
  const { says, alarm: id } = await board()
  await says({ warm: 6, dew: 3 })
  await says({ dew: 5.5 })
  await until(id('Dew', 'wet'), 'unacknowledged')
  await says({ dew: 2 })
  await until(id('Dew', 'wet'), 'returned')
})

it('raises nothing by a backlog that comes too late, and tells that it was beyond', async () => {
  const { says, alarm: id, idOf } = await board()
  const at = now()
  await says([
    { warm: 9, t: (at - 100 * minute) / 1000 },
    { warm: 11, t: (at - 99 * minute) / 1000 },
    { warm: 5, t: (at - 98 * minute) / 1000 },
    { warm: 5, t: at / 1000 },
  ])
  await says({ warm: 9 })
  await until(id('Temperature', 'high'), 'unacknowledged')
  const happened = await acts(id('Temperature', 'high'))
  expect(happened.map((act) => act.move).sort()).toEqual(['late', 'raise'])
  const { body: events } = await server.owner.call(routes.listEvents, {
    query: { from: at - 200 * minute, to: at + minute, kind: 'late-alarm', signalId: idOf('Temperature') },
  })
  expect(events).toEqual(
    expect.arrayContaining([
      expect.objectContaining({
        says: expect.stringMatching(/too high.*learned late/),
        until: at - 99 * minute,
      }),
    ]),
  )
})

it('rests by a word until it is woken, and is raised anew where it is still so', async () => {
  const { says, alarm: id } = await board()
  const high = id('Temperature', 'high')
  await says({ warm: 9 })
  await until(high, 'unacknowledged')
  const refused = await server.owner.ask(routes.moveAlarms, {
    body: { alarms: [high], move: 'shelve', seconds: 3600 },
  })
  expect(refused).toMatchObject({ status: 400, body: { detail: expect.stringContaining('Say why') } })
  await move([high], 'shelve', { seconds: 3600, word: 'the door is being mended' })
  expect(await standing(high)).toMatchObject({
    state: 'shelved',
    shelf: { by: 'Ines Marlow', why: 'the door is being mended' },
  })
  await says({ warm: 5 })
  await says({ warm: 10 })
  await move([high], 'wake')
  expect((await standing(high)).state).toBe('unacknowledged')
  // What cannot be done in that state is left, and said so.
  expect((await move([high], 'reset')).body).toEqual({ moved: [], left: [high] })
  await move([high], 'take-out', { word: 'the sensor is at the workshop' })
  expect(await standing(high)).toMatchObject({ state: 'out-of-service', outOfService: { by: 'Ines Marlow' } })
  await move([high], 'return-to-service')
  expect((await standing(high)).state).toBe('unacknowledged')
})

it('is judged anew when its limit is another one, and is gone with it', async () => {
  const { says, alarm: id, idOf } = await board()
  await says({ warm: 7 })
  const change = (high: number | null, alarms: readonly Alarm[]) =>
    server.owner.call(routes.changeOwnSettings, {
      params: { signalId: idOf('Temperature') },
      body: { set: { limits: { ...none, high }, alarms: [...alarms] } },
    })
  const high = alarm('high', { by: 'limit', limit: 'high' })
  await change(6, [high])
  await until(id('Temperature', 'high'), 'unacknowledged')
  await change(8, [high])
  await until(id('Temperature', 'high'), 'returned')
  await change(8, [])
  const gone = await server.owner.ask(routes.getAlarm, { params: { alarmId: id('Temperature', 'high') } })
  expect(gone.status).toBe(404)
  const wrong = await server.owner.ask(routes.changeOwnSettings, {
    params: { signalId: idOf('Temperature') },
    body: { set: { limits: null, alarms: [high] } },
  })
  expect(wrong).toMatchObject({ status: 400, body: { detail: expect.stringContaining('none is stated') } })
})

describe('as time passes', () => {
  let moved: ServerUnderTest
  let kit: number
  let away = 0
  beforeAll(async () => {
    moved = await serverUnderTest({ now: () => Date.now() + away })
    const { body } = await moved.owner.call(routes.createKit, {
      body: { name: 'Cave', cadence: { by: 'always', seconds: 900 }, signals },
    })
    kit = body.id
  })
  afterAll(() => moved.close())
  const here = () => board(moved.owner, kit, moved.origin)
  const reaches = (id: string, state: string) => until(id, state, moved.owner)
  /** Lets time pass, and waits until that was noticed: an alarm that rested for less is awake again. */
  const pass = async (seconds: number) => {
    const marker = await here()
    const high = marker.alarm('Temperature', 'high')
    await marker.says({ warm: 9 })
    await reaches(high, 'unacknowledged')
    await move([high], 'shelve', { seconds: 60, word: 'a marker' }, moved.owner)
    away += seconds * 1000
    await reaches(high, 'unacknowledged')
  }

  it('raises after its delay, by the clock alone, and returns after the other', async () => {
    const { says, alarm: id } = await here()
    await says({ damp: 80 })
    await pass(250)
    expect((await standing(id('Humidity', 'low'), moved.owner)).state).toBe('normal')
    await pass(100)
    await reaches(id('Humidity', 'low'), 'unacknowledged')
    await says({ damp: 90 })
    await pass(70)
    await reaches(id('Humidity', 'low'), 'returned')
  })

  it('latches where asked until somebody resets it', async () => {
    const { says, alarm: id } = await here()
    const open = id('Door', 'open')
    await says({ door: 1 })
    await pass(650)
    await reaches(open, 'unacknowledged')
    await move([open], 'acknowledge', {}, moved.owner)
    await says({ door: 0 })
    await reaches(open, 'latched')
    await move([open], 'reset', {}, moved.owner)
    expect((await standing(open, moved.owner)).state).toBe('normal')
  })

  it('is suppressed by design while it is washed down and for a while after', async () => {
    const { says, alarm: id } = await here()
    const low = id('Humidity', 'low')
    await says({ damp: 80, hose: 1 })
    await reaches(low, 'suppressed')
    await pass(350)
    expect((await standing(low, moved.owner)).state).toBe('suppressed')
    await says({ damp: 80, hose: 0 })
    await pass(550)
    expect((await standing(low, moved.owner)).state).toBe('suppressed')
    await pass(100)
    await reaches(low, 'unacknowledged')
  })

  it('wakes by itself when its rest is over', async () => {
    const { says, alarm: id } = await here()
    const high = id('Temperature', 'high')
    await says({ warm: 9 })
    await reaches(high, 'unacknowledged')
    await move([high], 'shelve', { seconds: 60, word: 'so be it' }, moved.owner)
    await pass(70)
    await reaches(high, 'unacknowledged')
  })
})
