import { type AlarmMove, routes } from '@jaunty-sparrow/contract'
import { type Alarm, untoldAlarm } from '@jaunty-sparrow/core/signal'
import { type ServerUnderTest, send, serverUnderTest, TestPerson } from '../testing/serverUnderTest.ts'

const password = 'a gate, a goat, a bell'
const alarm: Alarm = {
  ...untoldAlarm,
  key: 'high',
  occasion: { by: 'limit', limit: 'high' },
  priority: 'urgent',
}
const limits = { lowLow: null, low: null, high: 50, highHigh: null, deadband: 0, onDelay: 0, offDelay: 0 }
let server: ServerUnderTest
/** An alarm at each of two sites that waits for a word. */
const alarms: string[] = []
const sites: number[] = []
let count = 0
beforeAll(async () => {
  server = await serverUnderTest()
  const { owner } = server
  const { body: kit } = await owner.call(routes.createKit, {
    body: {
      name: 'Vat',
      cadence: { by: 'event' },
      signals: [{ field: '/warm', name: 'Milk', kind: 'number', limits, alarms: [alarm] }],
    },
  })
  for (const name of ['Dairy', 'Shop']) {
    const { body: site } = await owner.call(routes.createSite, { body: { name, timeZone: 'UTC' } })
    const address = `vat-${++count}`
    const { body } = await owner.call(routes.createDevice, {
      body: { name: address, address, siteId: site.id, kitId: kit.id },
    })
    await send(server.origin, `${address}.${body.secret}`, { warm: 60 })
    alarms.push(`${body.device.signals[0]?.id}.high`)
    sites.push(site.id)
  }
  await owner.until(
    async () => (await owner.call(routes.listAlarms)).body.inAll,
    (inAll) => inAll === 2,
  )
})
afterAll(() => server.close())

/** Somebody with a role at the first of the sites alone. */
async function guest(role: 'viewer' | 'operator' | 'owner'): Promise<TestPerson> {
  const { body } = await server.owner.call(routes.createInvitation, {
    body: { role, siteIds: [sites[0] ?? 0] },
  })
  const person = new TestPerson(server.origin)
  const name = `Guest ${++count}`
  await person.call(routes.acceptInvitation, { body: { token: body.token, person: { name, password } } })
  return person
}
const move = (person: TestPerson, id: string, what: AlarmMove) =>
  person.ask(routes.moveAlarms, { body: { alarms: [id], move: what, word: 'so be it' } })

it('shows of alarms what is at a site that one may look at', async () => {
  const viewer = await guest('viewer')
  const { body } = await viewer.call(routes.listAlarms)
  expect(body.alarms.map(({ id }) => id)).toEqual([alarms[0]])
  expect([body.inAll, body.counts.unacknowledged]).toEqual([1, 1])
  const { body: record } = await viewer.call(routes.getAlarmRecord, { query: { days: 1 } })
  expect(record.filter(({ id }) => id.endsWith('.high')).map(({ id }) => id)).toEqual([alarms[0]])
  expect(record.some(({ siteId }) => siteId !== sites[0])).toBe(false)
  expect((await viewer.ask(routes.getAlarm, { params: { alarmId: alarms[1] ?? '' } })).status).toBe(404)
})

it.each([
  ['viewer', 'acknowledge', 403],
  ['operator', 'shelve', 200],
  ['operator', 'wake', 200],
  ['operator', 'take-out', 403],
  ['owner', 'take-out', 200],
  ['operator', 'return-to-service', 403],
  ['owner', 'return-to-service', 200],
  ['operator', 'acknowledge', 200],
] as const)('lets a(n) %s %s: %d; and nowhere else', async (role, what, status) => {
  const person = await guest(role)
  expect((await move(person, alarms[0] ?? '', what)).status).toBe(status)
  // What one may not see is not there.
  expect((await move(person, alarms[1] ?? '', what)).status).toBe(role === 'viewer' ? 403 : 404)
  expect([403, 404]).toContain((await move(person, 'server.disk', what)).status)
})

it('tells of ways to whoever may act there, and of what is of all sites to those of all sites', async () => {
  const way = (siteId: number | null) => ({
    siteId,
    kind: 'webhook' as const,
    name: `of ${siteId}`,
    target: 'http://127.0.0.1:9/',
    tellings: [],
  })
  for (const siteId of [...sites, null]) await server.owner.call(routes.createWay, { body: way(siteId) })
  const operator = await guest('operator')
  expect((await operator.call(routes.listWays)).body.ways.map(({ name }) => name)).toEqual([`of ${sites[0]}`])
  const owner = await guest('owner')
  expect((await owner.ask(routes.createWay, { body: way(sites[0] ?? 0) })).status).toBe(201)
  expect((await owner.ask(routes.createWay, { body: way(sites[1] ?? 0) })).status).toBe(404)
  expect((await owner.ask(routes.createWay, { body: way(null) })).status).toBe(403)
})
