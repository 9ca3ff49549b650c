import { createHmac } from 'node:crypto'
import { EventEmitter, once } from 'node:events'
import { createServer, type IncomingHttpHeaders } from 'node:http'
import type { AddressInfo } from 'node:net'
import { type BodyOf, NoticeCall, routes } from '@jaunty-sparrow/contract'
import type { Alarm } from '@jaunty-sparrow/core/signal'
import { Ajv } from 'ajv'
import addFormats from 'ajv-formats'
import { MailSink } from '../testing/mailSink.ts'
import { type ServerUnderTest, send, serverUnderTest } from '../testing/serverUnderTest.ts'

const limits = { lowLow: null, low: null, high: 8, highHigh: null, deadband: 0, onDelay: 0, offDelay: 0 }
const alarm = (key: string, occasion: Alarm['occasion'], priority: Alarm['priority']): Alarm => ({
  key,
  name: '',
  occasion,
  priority,
  reason: '',
  cause: '',
  consequence: 'The milk turns.',
  response: 'Switch the cooling on.',
  timeToAct: 1800,
  isLatching: false,
  unless: null,
})
const always = {
  priorities: ['urgent', 'important', 'minor'],
  days: [1, 2, 3, 4, 5, 6, 7],
  from: 0,
  to: 0,
  wait: 0,
} as const
type Tellings = BodyOf<typeof routes.createWay>['tellings']
const atOnce: Tellings = [always]

/** What is sent is what the document of the API says. */
const describesCall = addFormats.default(new Ajv()).compile(NoticeCall)

let sink: MailSink
let server: ServerUnderTest
let ahead = 0
let kitId: number
/** A clock that is put forward is an alarm of the server: of that nobody is told here. */
let siteId: number
let count = 0

beforeAll(async () => {
  sink = await new MailSink().open()
  server = await serverUnderTest({
    now: () => Date.now() + ahead,
    config: { mailUrl: sink.url, mailFrom: 'sparrow@creamery.example' },
  })
  const { body } = await server.owner.call(routes.createKit, {
    body: {
      name: 'Vat',
      cadence: { by: 'event' },
      signals: [
        {
          field: '/warm',
          name: 'Milk',
          kind: 'number',
          unit: 'Cel',
          limits,
          alarms: [alarm('high', { by: 'limit', limit: 'high' }, 'urgent')],
        },
        {
          field: '/lid',
          name: 'Lid',
          kind: 'switch',
          alarms: [alarm('open', { by: 'state', values: [1], atLeast: 0 }, 'minor')],
        },
      ],
    },
  })
  kitId = body.id
  const { body: site } = await server.owner.call(routes.createSite, {
    body: { name: 'Dairy', timeZone: 'Europe/Dublin' },
  })
  siteId = site.id
})
afterAll(async () => {
  await server.close()
  await sink.close()
})
afterEach(async () => {
  sink.refuses = undefined
  const { body } = await server.owner.call(routes.listWays)
  for (const { id } of body.ways) await server.owner.call(routes.deleteWay, { params: { wayId: id } })
  sink.mails.length = 0
  // What still waits for a word would be told to whoever comes next.
  const { body: all } = await server.owner.call(routes.listAlarms)
  const ids = all.alarms.map(({ id }) => id)
  if (ids.length > 0)
    await server.owner.call(routes.moveAlarms, { body: { alarms: ids, move: 'acknowledge' } })
})

async function board() {
  const { address, token } = await server.owner.createDevice(`vat-${++count}`, kitId)
  const device = await server.owner.device(address)
  const idOf = (name: string) => device.signals.find((signal) => signal.name === name)?.id
  return {
    name: device.name,
    high: `${idOf('Milk')}.high`,
    open: `${idOf('Lid')}.open`,
    says: (message: object) => send(server.origin, token, message),
  }
}
const way = async (
  tellings: Tellings,
  target = 'moira@creamery.example',
  kind: 'mail' | 'webhook' = 'mail',
) =>
  (
    await server.owner.call(routes.createWay, {
      body: { siteId, kind, name: 'Moira Fenn', target, tellings: [...tellings] },
    })
  ).body
const notices = async () => (await server.owner.call(routes.listNotices, { query: {} })).body
const standing = async (id: string) =>
  (await server.owner.call(routes.getAlarm, { params: { alarmId: id } })).body
const until = (id: string, state: string) =>
  server.owner.until(
    () => standing(id),
    (found) => found.state === state,
  )
/** Mails have lines that are broken by their transport. */
const textOf = (source: string) =>
  source
    .replace(/=\r\n/g, '')
    .replace(/=([0-9A-F]{2})/g, (_, code) => Buffer.from(code, 'hex').toString('latin1'))
const linkIn = (source: string) => /\/seen#([A-Za-z0-9_-]+)/.exec(textOf(source))?.[1] ?? ''

it('sends a test by mail, and says what came back', async () => {
  const { way: made } = await way([])
  await server.owner.call(routes.testWay, { params: { wayId: made.id } })
  const [mail] = await sink.count(1)
  expect(mail).toMatchObject({ to: ['moira@creamery.example'], subject: 'Jaunty Sparrow: a test' })
  const [notice] = await server.owner.until(notices, ([found]) => found?.state === 'sent')
  expect(notice).toMatchObject({ kind: 'test', attempts: 1, answer: expect.stringContaining('250') })
})

it('tells several at once as one, is answered by its link once, and says one word when it is over', async () => {
  await way(atOnce)
  const [one, other] = [await board(), await board()]
  await one.says({ warm: 9 })
  await other.says({ warm: 10, lid: true })
  await until(other.high, 'unacknowledged')
  await until(other.open, 'unacknowledged')
  ahead += 6000
  const [mail] = await sink.count(1)
  expect(mail?.subject).toMatch(/^3 alarms, Milk, .* the first$/)
  const text = textOf(mail?.source ?? '')
  expect(text).toContain('What to do: Switch the cooling on.')
  const token = linkIn(mail?.source ?? '')
  const stranger = server.owner
  const { body: shown } = await stranger.call(routes.readSeenLink, { body: { token } })
  expect(shown).toMatchObject({ wayName: 'Moira Fenn', inAll: 3, usedAt: null })
  expect(shown.lines.map((line) => [line.priority, line.isWaiting])).toEqual([
    ['urgent', true],
    ['urgent', true],
    ['minor', true],
  ])
  expect((await stranger.call(routes.useSeenLink, { body: { token, word: 'coming' } })).body.moved).toBe(3)
  expect(await standing(one.high)).toMatchObject({
    state: 'acknowledged',
    acknowledged: { person: 'Moira Fenn', word: 'coming' },
  })
  expect(await stranger.ask(routes.useSeenLink, { body: { token } })).toMatchObject({ status: 401 })
  await one.says({ warm: 4 })
  await until(one.high, 'normal')
  ahead += 70_000
  const mails = await sink.count(2)
  expect(mails[1]?.subject).toBe(`Over: Milk, ${one.name}: too high`)
  // What is written down holds no link that still works.
  expect(JSON.stringify((await server.owner.call(routes.listNotices, { query: {} })).body)).not.toContain(
    token,
  )
})

it('tells only of what it is asked to, and others when nobody has seen it', async () => {
  await way([{ ...always, priorities: ['urgent'], wait: 900 }], 'ines@creamery.example')
  await way([{ ...always, priorities: ['urgent'] }])
  const { says, high, open } = await board()
  await says({ warm: 9, lid: true })
  await until(high, 'unacknowledged')
  await until(open, 'unacknowledged')
  ahead += 6000
  const [first] = await sink.count(1)
  expect(first).toMatchObject({
    to: ['moira@creamery.example'],
    subject: expect.stringMatching(/^Urgent: Milk/),
  })
  ahead += 901_000
  await server.owner.until(notices, (all) => all.some(({ state }) => state === 'gathers'))
  ahead += 6000
  const mails = await sink.count(2)
  expect(mails[1]?.to).toEqual(['ines@creamery.example'])
})

it('waits with what somebody does not want to hear at night', async () => {
  const zone = 'Europe/Dublin'
  const minute = (at: number) => {
    const [hours = 0, minutes = 0] = new Intl.DateTimeFormat('en-GB', {
      timeZone: zone,
      hour: '2-digit',
      minute: '2-digit',
      hourCycle: 'h23',
    })
      .format(at)
      .split(':')
      .map(Number)
    return hours * 60 + minutes
  }
  const now = minute(Date.now() + ahead)
  const later = (now + 60) % 1440
  await way([{ ...always, from: later, to: now }])
  const { says, high } = await board()
  await says({ warm: 9 })
  await until(high, 'unacknowledged')
  const { way: other } = await way([], 'other@creamery.example')
  await server.owner.call(routes.testWay, { params: { wayId: other.id } })
  expect((await sink.count(1))[0]?.to).toEqual(['other@creamery.example'])
  expect((await notices()).filter(({ kind, state }) => kind === 'alarm' && state === 'gathers')).toEqual([])
  ahead += 61 * 60_000
  await server.owner.until(notices, (all) => all.some(({ state }) => state === 'gathers'))
  ahead += 6000
  expect((await sink.count(2))[1]?.to).toEqual(['moira@creamery.example'])
})

it('tries again what was refused, with the same Message-ID, and raises an alarm where a way keeps failing', async () => {
  const { way: made } = await way([])
  sink.refuses = 'the mailbox is full'
  const once = sink.refused()
  await server.owner.call(routes.testWay, { params: { wayId: made.id } })
  await once
  const [failed] = await server.owner.until(notices, ([found]) => found?.answer !== '')
  expect(failed).toMatchObject({
    state: 'waits',
    attempts: 1,
    answer: expect.stringContaining('mailbox is full'),
  })
  expect((await server.owner.call(routes.listWays)).body.ways[0]?.failing).toContain('mailbox is full')
  for (const wait of [7000, 40_000]) {
    const again = sink.refused()
    ahead += wait
    await again
  }
  await until('server.notice', 'unacknowledged')
  sink.refuses = undefined
  ahead += 150_000
  await sink.count(1)
  const [sent] = await server.owner.until(notices, ([found]) => found?.state === 'sent')
  expect(sent?.attempts).toBe(4)
  await until('server.notice', 'returned')
})

it('calls a webhook, signed, by an id that stays, and again where that fails', async () => {
  const called: { headers: IncomingHttpHeaders; body: string }[] = []
  const calls = new EventEmitter()
  const hook = createServer((request, response) => {
    let body = ''
    request.on('data', (piece) => {
      body += piece
    })
    request.on('end', () => {
      called.push({ headers: request.headers, body })
      response.writeHead(called.length === 1 ? 503 : 200).end('so be it')
      calls.emit('call')
    })
  }).listen(0, '127.0.0.1')
  await once(hook, 'listening')
  try {
    const { way: made, secret } = await way(
      atOnce,
      `http://127.0.0.1:${(hook.address() as AddressInfo).port}/hook`,
      'webhook',
    )
    const { says, high } = await board()
    await says({ warm: 9 })
    await until(high, 'unacknowledged')
    const first = once(calls, 'call')
    ahead += 6000
    await first
    await server.owner.until(notices, ([found]) => found?.answer.startsWith('503') ?? false)
    const second = once(calls, 'call')
    ahead += 7000
    await second
    const [sent] = await server.owner.until(notices, ([found]) => found?.state === 'sent')
    expect(sent).toMatchObject({ wayId: made.id, answer: '200 OK: so be it' })
    expect(called.map(({ headers }) => headers['webhook-id'])).toEqual([
      called[0]?.headers['webhook-id'],
      called[0]?.headers['webhook-id'],
    ])
    expect(called[1]?.body).toBe(called[0]?.body)
    const { headers, body } = called[1] ?? { headers: {}, body: '' }
    const signed = `${headers['webhook-id']}.${headers['webhook-timestamp']}.${body}`
    const expected = createHmac('sha256', Buffer.from(secret ?? '', 'base64'))
      .update(signed)
      .digest('base64')
    expect(headers['webhook-signature']).toBe(`v1,${expected}`)
    expect([describesCall(JSON.parse(body)), describesCall.errors]).toEqual([true, null])
    expect(JSON.parse(body)).toMatchObject({
      kind: 'alarm',
      inAll: 1,
      alarms: [{ alarmId: high, priority: 'urgent', response: 'Switch the cooling on.' }],
      answerAt: expect.stringContaining('/seen#'),
    })
  } finally {
    hook.close()
  }
})

it('refuses where nobody can be told', async () => {
  const make = (kind: 'mail' | 'webhook', target: string) =>
    server.owner.ask(routes.createWay, { body: { siteId: null, kind, name: 'X', target, tellings: [] } })
  expect(await make('mail', 'nobody at all')).toMatchObject({ status: 400 })
  expect(await make('mail', 'a@b,c@d')).toMatchObject({ status: 400 })
  expect(await make('webhook', 'ftp://here/')).toMatchObject({ status: 400 })
  expect(await make('webhook', 'file:///etc/passwd')).toMatchObject({ status: 400 })
})
