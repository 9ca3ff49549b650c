import { type BodyOf, type KeptDashboard, routes } from '@jaunty-sparrow/contract'
import { decode } from 'fast-png'
import { type RunningServer, startServer } from '../server.ts'
import { emptyDatabase, send, TestPerson, testConfig } from '../testing/serverUnderTest.ts'

let server: RunningServer
let owner: TestPerson
let siteId: number
let secret: string
let signalId: number

beforeAll(async () => {
  server = await startServer(testConfig(await emptyDatabase()), { webRoot: undefined, now: Date.now })
  owner = new TestPerson(server.url)
  await owner.becomeOwner(server.firstRunToken)
  const { body: kit } = await owner.call(routes.createKit, {
    body: {
      name: 'Cave node',
      cadence: null,
      signals: [
        { field: '/temperature', name: 'Temperature', kind: 'number', unit: 'Cel' },
        { field: '/humidity', name: 'Humidity', kind: 'number', unit: '%' },
      ],
    },
  })
  secret = (await owner.createDevice('cave', kit.id)).token
  await send(server.url, secret, { temperature: 11.6 })
  const cave = await owner.device('cave')
  siteId = cave.siteId
  signalId = cave.signals[0]?.id ?? 0
})
afterAll(() => server.close())

type Shows = KeptDashboard['shows']
const instrument = (kind = 'value', settings: Record<string, unknown> = {}) => ({
  id: 'i1',
  kind,
  importance: 'normal' as const,
  title: null,
  signals: [{ signal: signalId }],
  settings: { [kind]: settings },
  unit: null,
  link: null,
})
const page = (title = 'First', instruments = [instrument()]): Shows => ({
  chapters: [{ id: 'c1', title, repeat: null, instruments, phone: null }],
})
const make = async (more: Partial<BodyOf<typeof routes.createDashboard>> = {}) =>
  owner.call(routes.createDashboard, {
    body: { siteId, name: 'Caves', isMine: false, role: 'viewer', shows: page(), ...more },
  })

/** Somebody who may do less. */
async function invite(role: 'viewer' | 'operator'): Promise<TestPerson> {
  const { body } = await owner.call(routes.createInvitation, { body: { role, siteIds: [siteId] } })
  const guest = new TestPerson(server.url)
  await guest.call(routes.acceptInvitation, {
    body: {
      token: body.token,
      person: { name: `Guest ${Math.random()}`, password: 'a gate, a goat, a bell' },
    },
  })
  return guest
}

it('keeps each version, and refuses to lose what somebody else published meanwhile', async () => {
  const { body: made } = await make()
  const params = { dashboardId: made.id }
  const publish = (basedOn: number, title: string) =>
    owner.call(routes.publishDashboard, {
      params,
      body: { basedOn, name: 'Caves', isMine: false, role: 'viewer', shows: page(title) },
    })
  expect((await publish(1, 'Second')).body).toMatchObject({ version: 2, by: 'Ines Marlow' })
  const late = await publish(1, 'Of another')
  expect(late.status).toBe(409)
  expect(late.body).toMatchObject({ detail: expect.stringContaining('What you did is kept') })
  expect((await publish(2, 'Of another')).body).toMatchObject({ version: 3 })
  const { body: versions } = await owner.call(routes.listDashboardVersions, { params })
  expect(versions.map(({ version, shows }) => [version, shows.chapters[0]?.title])).toEqual([
    [3, 'Of another'],
    [2, 'Second'],
    [1, 'First'],
  ])
})

it('of two who publish at once one is told, whatever the order', async () => {
  const { body: made } = await make()
  const answers = await Promise.all(
    ['one', 'other', 'third'].map((title) =>
      owner.call(routes.publishDashboard, {
        params: { dashboardId: made.id },
        body: { basedOn: 1, name: 'Caves', isMine: false, role: 'viewer', shows: page(title) },
      }),
    ),
  )
  expect(answers.map(({ status }) => status).sort()).toEqual([200, 409, 409])
})

it('shows nobody what is somebody’s own, and those with a lesser role nothing that is for a greater one', async () => {
  const guest = await invite('viewer')
  const { body: mine } = await make({ isMine: true, name: 'Only mine' })
  const { body: forOwners } = await make({ role: 'owner', name: 'For owners' })
  const { body: forAll } = await make({ name: 'For all' })
  const names = (await guest.call(routes.listDashboards)).body.map(({ name }) => name)
  expect(names).toContain('For all')
  expect(names).not.toContain('Only mine')
  expect(names).not.toContain('For owners')
  for (const { id } of [mine, forOwners])
    expect((await guest.call(routes.getDashboard, { params: { dashboardId: id } })).status).toBe(404)
  expect((await guest.call(routes.deleteDashboard, { params: { dashboardId: forAll.id } })).status).toBe(403)
  const own = await guest.call(routes.createDashboard, {
    body: { siteId, name: 'Of the guest', isMine: true, role: 'viewer', shows: page() },
  })
  expect(own.status).toBe(201)
  expect((await guest.call(routes.deleteDashboard, { params: { dashboardId: own.body.id } })).status).toBe(
    204,
  )
})

it('keeps so many dashboards of one’s own, and lists nobody the links of somebody else’s', async () => {
  const guest = await invite('viewer')
  const body = { siteId, name: 'Again', isMine: true, role: 'viewer' as const, shows: { chapters: [] } }
  const { body: first } = await guest.call(routes.createDashboard, { body })
  expect((await owner.call(routes.listDashboardLinks, { params: { dashboardId: first.id } })).status).toBe(
    404,
  )
  const more = Array.from({ length: 199 }, () => guest.call(routes.createDashboard, { body }))
  expect((await Promise.all(more)).every(({ status }) => status === 201)).toBe(true)
  expect(await guest.call(routes.createDashboard, { body })).toMatchObject({
    status: 409,
    body: { detail: expect.stringContaining('Throw one away') },
  })
})

it.each([
  ['an instrument there is not', () => page('x', [instrument('steam')]), 'which there is not'],
  ['a setting there is not', () => page('x', [instrument('value', { colour: 'red' })]), '"colour"'],
  ['a word that is none of the choice', () => page('x', [instrument('value', { span: 'aeon' })]), '"span"'],
  ['two of the same id', () => page('x', [instrument(), instrument()]), 'same id'],
  [
    'a chapter that is nothing',
    () => ({ chapters: [{ id: 'c', title: '', repeat: null, instruments: null, phone: null }] }),
    'which instruments',
  ],
])('refuses %s, and says where', async (_, shows, says) => {
  const answer = await make({ shows: shows() })
  expect(answer.status).toBe(400)
  expect(answer.body).toMatchObject({ detail: expect.stringContaining(says) })
})

/** As a display asks; a fetch would say by itself that it wants no answer out of a cache. */
const ifOther = (tag: string) => ({ 'If-None-Match': tag, 'Cache-Control': 'max-age=0' })

describe('by a link', () => {
  const link = async (dashboardId: number, instrumentId: string | null = null) =>
    owner.call(routes.createDashboardLink, {
      params: { dashboardId },
      body: { name: 'Cave, live', instrumentId, past: 'day', frameAncestors: [], expiresAt: null },
    })

  it('shows what is on it and no more, until it is withdrawn', async () => {
    await send(server.url, secret, { temperature: 11.7, humidity: 92 })
    const { body: made } = await make()
    const { body: shared } = await link(made.id)
    const stranger = new TestPerson(server.url)
    const { body } = await stranger.call(routes.getSharedPage, { params: { token: shared.token } })
    expect(body.signals.map(({ id, field }) => [id, field])).toEqual([[signalId, '']])
    expect(body.dashboard?.devices).toEqual([
      expect.objectContaining({ name: 'Device cave', signals: [signalId] }),
    ])
    await owner.call(routes.withdrawShareLink, { params: { linkId: shared.link.id } })
    expect((await stranger.call(routes.getSharedPage, { params: { token: shared.token } })).status).toBe(401)
  })

  it('shows one instrument alone', async () => {
    const second = { ...instrument('scale'), id: 'i2' }
    const { body: made } = await make({ shows: page('Both', [instrument(), second]) })
    const { body: shared } = await link(made.id, 'i2')
    const stranger = new TestPerson(server.url)
    const { body } = await stranger.call(routes.getSharedPage, { params: { token: shared.token } })
    expect(body.isSingle).toBe(true)
    expect(body.dashboard?.shows.chapters[0]?.instruments?.map(({ id }) => id)).toEqual(['i2'])
    expect((await link(made.id, 'i9')).status).toBe(404)
  })

  it('is drawn for paper: so many pixels in so few greys, and not again while nothing has changed', async () => {
    const { body: made } = await make()
    const { body: shared } = await link(made.id)
    const address = `${server.url}/api/shared/${shared.token}/paper.png`
    const answer = await fetch(`${address}?width=296&height=128&greys=4`)
    expect(answer.status).toBe(200)
    expect(answer.headers.get('content-type')).toBe('image/png')
    expect(answer.headers.get('cache-control')).toMatch(/^private, max-age=\d+$/)
    const png = decode(new Uint8Array(await answer.arrayBuffer()))
    expect(png).toMatchObject({ width: 296, height: 128, depth: 2, channels: 1 })
    const plain = decode(new Uint8Array(await (await fetch(address)).arrayBuffer()))
    expect(plain).toMatchObject({ width: 400, height: 300, depth: 1 })
    // Mostly paper, with something on it.
    const dark = Array.from(plain.data, (byte) => byte.toString(2).padStart(8, '0'))
      .join('')
      .replaceAll('1', '').length
    expect(dark).toBeGreaterThan(400)
    expect(dark).toBeLessThan(400 * 300 * 0.2)
    const small = `${address}?width=296&height=128&greys=4`
    const ask = async (tag: string) => fetch(small, { headers: ifOther(tag) })
    const minuteNow = () => Math.ceil(Date.now() / 60_000)
    let tag: string
    let again: Response
    let minute: number
    // Pictures are of the minute: where one has passed in between, it is another one.
    do {
      minute = minuteNow()
      tag = (await fetch(small)).headers.get('etag') ?? ''
      again = await ask(tag)
    } while (minuteNow() !== minute)
    expect(again.status).toBe(304)
    await send(server.url, secret, { temperature: 14.2 })
    expect((await ask(tag)).status).toBe(200)
  })

  it('refuses a picture that is too large, or of what is not shared', async () => {
    const { body: made } = await make()
    const { body: shared } = await link(made.id)
    const address = (token: string, query: string) => `${server.url}/api/shared/${token}/paper.png?${query}`
    expect((await fetch(address(shared.token, 'width=9000'))).status).toBe(400)
    expect((await fetch(address(shared.token, 'greys=3'))).status).toBe(400)
    expect((await fetch(address('x'.repeat(32), ''))).status).toBe(401)
  })
})

describe('notes', () => {
  it('are written by operators, of what was, and taken back by who wrote them', async () => {
    const [viewer, operator] = [await invite('viewer'), await invite('operator')]
    const note = (by: TestPerson, at: number, more = {}) =>
      by.call(routes.createNote, { body: { says: 'washed down', at, siteId, ...more } })
    expect((await note(viewer, Date.now())).status).toBe(403)
    expect((await note(operator, Date.now() + 3_600_000)).status).toBe(400)
    expect((await note(operator, Date.now(), { signalId: 99_999 })).status).toBe(404)
    const made = await note(operator, Date.now() - 60_000, { signalId })
    expect(made.body).toMatchObject({ kind: 'note', says: 'washed down', signalId, siteId })
    const span = { from: Date.now() - 3_600_000, to: Date.now() }
    const list = () => viewer.call(routes.listEvents, { query: { ...span, kind: 'note', siteId } })
    expect((await list()).body.map(({ id }) => id)).toContain(made.body.id)
    const other = await invite('operator')
    const remove = (by: TestPerson) => by.call(routes.deleteNote, { params: { eventId: made.body.id } })
    expect((await remove(other)).status).toBe(403)
    expect((await remove(operator)).status).toBe(204)
    expect((await list()).body.map(({ id }) => id)).not.toContain(made.body.id)
  })

  it('take back nothing else that happened', async () => {
    const span = { from: Date.now() - 3_600_000, to: Date.now() + 60_000 }
    const { body } = await owner.call(routes.listEvents, { query: { ...span, kind: 'dashboard' } })
    const eventId = body[0]?.id ?? 0
    expect(eventId).toBeGreaterThan(0)
    expect((await owner.call(routes.deleteNote, { params: { eventId } })).status).toBe(404)
  })
})

it('tells the limits of then', async () => {
  const limits = { lowLow: null, low: 8, high: 14, highHigh: null, deadband: 0, onDelay: 0, offDelay: 0 }
  const definitionId = (await owner.device('cave')).signals[0]?.definitionId ?? 0
  const set = (high: number) =>
    owner.call(routes.changeSignalDefinition, {
      params: { definitionId },
      body: { limits: { ...limits, high } },
    })
  await set(14)
  const between = Date.now()
  await owner.until(
    async () => Date.now(),
    (now) => now > between,
  )
  await set(16)
  const at = async (instant: number) =>
    (await owner.call(routes.getDescriptionsAt, { query: { signals: String(signalId), at: instant } }))
      .body[0]?.limits?.high
  expect(await at(between)).toBe(14)
  expect(await at(Date.now() + 1000)).toBe(16)
  await owner.call(routes.changeOwnSettings, {
    params: { signalId },
    body: { set: { limits: { ...limits, high: 11 } } },
  })
  expect(await at(Date.now() + 1000)).toBe(11)
  expect(await at(between)).toBe(14)
})
