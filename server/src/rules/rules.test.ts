import { once } from 'node:events'
import { type NewSignalDefinition, routes, type StandingRule } from '@jaunty-sparrow/contract'
import type { Rule } from '@jaunty-sparrow/core/rule'
import { startServer } from '../server.ts'
import {
  emptyDatabase,
  type ServerUnderTest,
  send,
  serverUnderTest,
  TestPerson,
  testConfig,
} from '../testing/serverUnderTest.ts'
import { type SpawnedServer, spawnServer } from '../testing/spawnedServer.ts'

let server: ServerUnderTest
let kitId: number
let count = 0
const signals: NewSignalDefinition[] = [
  {
    field: '/damp',
    name: 'Humidity',
    kind: 'number',
    unit: '%',
    faults: [{ value: 999, name: 'no sensor' }],
  },
  { field: '/lid', name: 'Lid open', kind: 'switch' },
  { field: '/fogger', name: 'Fogger', kind: 'switch', origin: 'controlled' },
  { field: '/fan', name: 'Fan', kind: 'switch', origin: 'controlled' },
]
beforeAll(async () => {
  server = await serverUnderTest()
  const { body } = await server.owner.call(routes.createKit, {
    body: { name: 'Cave', cadence: { by: 'always', seconds: 30 }, signals },
  })
  kitId = body.id
})
afterAll(() => server.close())
/** Servers of single tests: one that is left running would outlive a test that failed. */
const others: { readonly close: () => Promise<void> }[] = []
afterEach(async () => {
  for (const each of others.splice(0)) await each.close()
})

/** A board, with the numbers of its signals by their names. */
async function board(owner = server.owner, kit = kitId) {
  const { address, token } = await owner.createDevice(`board-${++count}`, kit)
  const { signals: made, siteId } = await owner.device(address)
  const id = Object.fromEntries(made.map((signal) => [signal.name, signal.id]))
  return {
    address,
    token,
    siteId,
    damp: id.Humidity ?? 0,
    lid: id['Lid open'] ?? 0,
    fogger: id.Fogger ?? 0,
    fan: id.Fan ?? 0,
  }
}
type Board = Awaited<ReturnType<typeof board>>

const always = {
  until: null,
  clock: null,
  leastOn: 0,
  leastOff: 0,
  mostAnHour: null,
  safeAfterAway: false,
  whenUnknown: 'rest',
} as const
const dampLow = ({ damp }: Pick<Board, 'damp'>, more: Partial<Rule> = {}): Rule => ({
  ...always,
  inputs: [{ name: 'a', signal: damp }],
  when: { formula: 'a < 85', atLeast: 0 },
  until: { formula: 'a > 90', atLeast: 0 },
  value: 1,
  otherwise: 0,
  ...more,
})
const lidOpen = ({ lid }: Board): Rule => ({
  ...always,
  inputs: [{ name: 'lid', signal: lid }],
  when: { formula: 'lid > 0.5', atLeast: 0 },
  value: 0,
  otherwise: null,
  whenUnknown: 'stay',
})

async function made(
  signalId: number,
  name: string,
  rule: Rule,
  mode: StandingRule['mode'] = 'on',
  owner = server.owner,
) {
  const { body } = await owner.call(routes.createRule, { params: { signalId }, body: { name, rule } })
  if (mode !== 'off') await owner.call(routes.switchRule, { params: { ruleId: body.id }, body: { mode } })
  return body.id
}

/** What rules asked of a signal, the oldest first. */
async function asked(signalId: number, owner = server.owner) {
  const { body } = await owner.call(routes.listCommands, { query: { signalId } })
  return body.reverse()
}
const values = async (signalId: number) => (await asked(signalId)).map(({ value, rule }) => [value, rule])

async function holdOf(signalId: number, owner = server.owner) {
  const { body } = await owner.call(routes.listRules)
  return body.holds.find((hold) => hold.signalId === signalId)
}
const acts = async (ruleId: number, owner = server.owner) =>
  (await owner.call(routes.listRuleActs, { params: { ruleId }, query: {} })).body.reverse()
const standing = async (ruleId: number) => {
  const { body } = await server.owner.call(routes.listRules)
  const found = body.rules.find(({ id }) => id === ruleId)
  if (!found) throw new Error('the rule is not there')
  return found
}

const say = async ({ token }: Board, said: object) =>
  expect((await send(server.origin, token, said)).status).toBe(204)

it('asks for what it comes to, once, tells the values that caused it, and ends beyond the other bound', async () => {
  const { owner } = server
  const one = await board()
  await say(one, { damp: 88, lid: false, fogger: false })
  const ruleId = await made(one.fogger, 'Humidity low', dampLow(one))
  // Off is what it is already.
  expect(await values(one.fogger)).toEqual([])
  await say(one, { damp: 82 })
  await owner.until(
    () => values(one.fogger),
    (all) => all.length > 0,
  )
  const [command] = await asked(one.fogger)
  expect(command).toMatchObject({
    value: 1,
    rule: 'Humidity low',
    person: null,
    why: `Humidity of Device ${one.address} 82 %`,
  })
  const taken = await fetch(`${server.origin}/in?commands`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json', Authorization: `Bearer ${one.token}` },
    body: '{"damp": 83}',
  })
  expect(await taken.json()).toMatchObject({ commands: [{ signal: 'fogger', value: true }] })
  await say(one, { damp: 89, fogger: true })
  await say(one, { damp: 91 })
  await owner.until(
    () => values(one.fogger),
    (all) => all.length > 1,
  )
  expect(await values(one.fogger)).toEqual([
    [1, 'Humidity low'],
    [0, 'Humidity low'],
  ])
  expect((await asked(one.fogger))[0]?.state).toBe('confirmed')
  expect(
    (await acts(ruleId)).map(({ kind, because }) => [kind, because[0]?.signalId, because[0]?.value]),
  ).toEqual([
    ['begins', one.damp, 82],
    ['ends', one.damp, 91],
  ])
})

it('obeys the first of several that asks for something, in the order that is said', async () => {
  const { owner } = server
  const one = await board()
  await say(one, { damp: 80, lid: true, fogger: false })
  const low = await made(one.fogger, 'Humidity low', dampLow(one))
  await owner.until(
    () => values(one.fogger),
    (all) => all.length === 1,
  )
  const lid = await made(one.fogger, 'Lid open', lidOpen(one))
  await owner.until(
    () => holdOf(one.fogger),
    (hold) => hold?.ruleId === low,
  )
  await owner.call(routes.orderRules, {
    params: { signalId: one.fogger },
    body: { order: [lid, low], handFor: 600 },
  })
  const heldOff = await owner.until(
    () => holdOf(one.fogger),
    (hold) => hold?.ruleId === lid,
  )
  expect(heldOff).toMatchObject({ wish: 0, handFor: 600, hand: null })
  await owner.until(
    () => asked(one.fogger),
    (all) => all.at(-1)?.value === 0,
  )
  await say(one, { lid: false })
  await owner.until(
    () => holdOf(one.fogger),
    (hold) => hold?.ruleId === low && hold.wish === 1,
  )
  const { status, body } = await owner.ask(routes.orderRules, {
    params: { signalId: one.fogger },
    body: { order: [lid], handFor: 600 },
  })
  expect([status, JSON.stringify(body)]).toEqual([409, expect.stringContaining('not the rules')])
})

it('lets a hand come first, and goes back when its time is over or it is told to', async () => {
  const { owner } = server
  const one = await board()
  await say(one, { damp: 95, fogger: false })
  await made(one.fogger, 'Humidity low', dampLow(one))
  await owner.call(routes.requestCommands, { body: { signals: [one.fogger], value: 1, why: 'a look at it' } })
  await say(one, { fogger: true })
  expect(await holdOf(one.fogger)).toMatchObject({ wish: 0, hand: { person: 'Ines Marlow' } })
  await say(one, { damp: 80 })
  await owner.until(
    () => holdOf(one.fogger),
    (hold) => hold?.wish === 1,
  )
  await say(one, { damp: 96 })
  await owner.until(
    () => holdOf(one.fogger),
    (hold) => hold?.wish === 0,
  )
  expect(await values(one.fogger)).toEqual([[1, null]])
  await owner.call(routes.resumeRules, { params: { signalId: one.fogger } })
  await owner.until(
    () => values(one.fogger),
    (all) => all.length === 2,
  )
  expect((await asked(one.fogger))[1]).toMatchObject({
    value: 0,
    rule: 'Humidity low',
    why: expect.stringContaining('Humidity'),
  })
  expect(await holdOf(one.fogger)).toMatchObject({ hand: null })

  const [order] = (await owner.call(routes.listRules)).body.rules.filter(
    ({ signalId }) => signalId === one.fogger,
  )
  await owner.call(routes.orderRules, {
    params: { signalId: one.fogger },
    body: { order: [order?.id ?? 0], handFor: 2 },
  })
  await say(one, { fogger: false })
  await owner.call(routes.requestCommands, { body: { signals: [one.fogger], value: 1 } })
  await say(one, { fogger: true })
  await owner.until(
    () => values(one.fogger),
    (all) => all.length === 4,
  )
  expect((await asked(one.fogger))[3]).toMatchObject({
    value: 0,
    rule: 'Humidity low',
    why: expect.stringMatching(/^The hand is over\. Humidity of/),
  })
})

it('asks again what a device leaves by itself, once a minute has passed', async () => {
  let ahead = 0
  const own = await serverUnderTest({ now: () => Date.now() + ahead })
  others.push(own)
  const { body: kit } = await own.owner.call(routes.createKit, {
    body: { name: 'Cave', cadence: { by: 'event' }, signals },
  })
  const one = await board(own.owner, kit.id)
  await send(own.origin, one.token, { damp: 95, fogger: false })
  await made(one.fogger, 'Humidity low', dampLow(one), 'on', own.owner)
  await send(own.origin, one.token, { damp: 95, fogger: true })
  expect(await asked(one.fogger, own.owner)).toEqual([])
  ahead += 50_000
  await send(own.origin, one.token, { damp: 95, fogger: true })
  ahead += 20_000
  await own.owner.until(
    () => asked(one.fogger, own.owner),
    (all) => all.length === 1 && all[0]?.value === 0,
  )
})

it('only says what it would do while it is on trial, and nothing at all while it is off', async () => {
  const { owner } = server
  const one = await board()
  await say(one, { damp: 95, fogger: false })
  const trial = await made(one.fogger, 'Tried', dampLow(one), 'trial')
  const off = await made(one.fogger, 'Off', dampLow(one), 'off')
  const on = await made(one.fan, 'Beside', dampLow(one))
  await say(one, { damp: 80, fan: false })
  await owner.until(
    () => values(one.fan),
    (all) => all.length === 1,
  )
  expect((await acts(trial)).map(({ kind, isTrial }) => [kind, isTrial])).toEqual([['begins', true]])
  expect((await acts(on)).map(({ kind, isTrial }) => [kind, isTrial])).toEqual([['begins', false]])
  expect(await acts(off)).toEqual([])
  expect(await values(one.fogger)).toEqual([])
  // It goes on from where it was when it is obeyed.
  await owner.call(routes.switchRule, { params: { ruleId: trial }, body: { mode: 'on' } })
  await owner.until(
    () => values(one.fogger),
    (all) => all.length === 1,
  )
})

it('is not moved by what comes late, nor by what a person brings from the past', async () => {
  const { owner, origin } = server
  const one = await board()
  const now = Date.now() / 1000
  await say(one, { t: now - 20, damp: 95, fogger: false, lid: false })
  const ruleId = await made(one.fogger, 'Humidity low', dampLow(one))
  await say(one, { t: now - 25, damp: 70 })
  await say(one, { t: now - 7200, damp: 70 })
  const stored = await fetch(`${origin}/in`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json', Authorization: `Bearer ${one.token}` },
    body: JSON.stringify([
      { t: now - 3600, damp: 60 },
      { t: now - 10, lid: true },
    ]),
  })
  expect(stored.status).toBe(204)
  // What came after all of it is judged, so that was too.
  await say(one, { t: now - 5, damp: 96, lid: true })
  const rule = await owner.until(
    () => standing(ruleId),
    () => true,
  )
  expect(rule.isActing).toBe(false)
  await say(one, { t: now - 4, damp: 84 })
  await owner.until(
    () => values(one.fogger),
    (all) => all.length > 0,
  )
  expect((await acts(ruleId)).map(({ kind, because }) => [kind, because[0]?.value])).toEqual([['begins', 84]])
})

it('goes safe at once when its sensor is at fault, and when it falls silent', async () => {
  const { owner } = server
  const { body: kit } = await owner.call(routes.createKit, {
    body: { name: 'Quick', cadence: { by: 'always', seconds: 1 }, signals },
  })
  const one = await board(owner, kit.id)
  await say(one, { damp: 80, fogger: false })
  const ruleId = await made(one.fogger, 'Humidity low', dampLow(one, { leastOn: 3600 }))
  await owner.until(
    () => values(one.fogger),
    (all) => all.length === 1,
  )
  await say(one, { damp: 999, fogger: true })
  await owner.until(
    () => values(one.fogger),
    (all) => all.length === 2,
  )
  expect((await asked(one.fogger))[1]).toMatchObject({
    value: 0,
    why: `Humidity of Device ${one.address} says nothing`,
  })
  await say(one, { damp: 80, fogger: false })
  await owner.until(
    () => acts(ruleId),
    (all) => all.at(-1)?.kind === 'begins',
  )
  await owner.until(
    () => acts(ruleId),
    (all) => all.at(-1)?.kind === 'unknown',
  )
  expect((await acts(ruleId)).map(({ kind, isActing }) => [kind, isActing])).toEqual([
    ['begins', true],
    ['unknown', false],
    ['known', false],
    ['begins', true],
    ['unknown', false],
  ])
}, 30_000)

it('refuses what contradicts itself, loops, and signals of other sites', async () => {
  const { owner } = server
  const one = await board()
  const refused = async (signalId: number, rule: Rule) => {
    const { status, body } = await owner.ask(routes.createRule, {
      params: { signalId },
      body: { name: 'Wrong', rule },
    })
    return `${status} ${JSON.stringify(body)}`
  }
  expect(await refused(one.fogger, dampLow(one, { value: 2 }))).toMatch(/^400.*0 for off or 1 for on/)
  expect(await refused(one.damp, dampLow(one))).toMatch(/^400.*is not controlled/)
  expect(
    await refused(one.fogger, { ...lidOpen(one), inputs: [{ name: 'lid', signal: one.fogger }] }),
  ).toMatch(/^409.*It would follow from itself: \\"Fogger\\" of Device .* from \\"Fogger\\"/)
  await made(
    one.fan,
    'Fan after fogger',
    { ...lidOpen(one), inputs: [{ name: 'lid', signal: one.fogger }] },
    'off',
  )
  expect(await refused(one.fogger, { ...lidOpen(one), inputs: [{ name: 'lid', signal: one.fan }] })).toMatch(
    /^409/,
  )

  const { body: site } = await owner.call(routes.createSite, { body: { name: 'Far away', timeZone: 'UTC' } })
  const { body: other } = await owner.call(routes.createDevice, {
    body: { name: 'Other', address: 'other', siteId: site.id, kitId },
  })
  const far = other.device.signals.find(({ name }) => name === 'Humidity')?.id ?? 0
  expect(await refused(one.fogger, dampLow({ damp: far }))).toMatch(/^400.*no signal of the same site/)
})

it('tells what it would have done over the past, and where it would have fought another', async () => {
  const { owner, origin } = server
  const one = await board()
  const end = Math.floor(Date.now() / 1000) - 60
  const begin = end - 3600
  // Every half a minute: damp goes down from 100 to 70 and up again, twice; the lid is open in the second quarter.
  const rows = Array.from({ length: 120 }, (_, n) => ({
    t: begin + n * 30,
    damp: 100 - 30 * Math.abs(Math.sin((n / 60) * Math.PI)),
    lid: n >= 30 && n < 60,
  }))
  expect((await send(origin, one.token, rows)).status).toBe(204)
  await made(one.fogger, 'Lid open', lidOpen(one))
  const tried = async (rule: Rule) => {
    const { body } = await owner.call(routes.tryRule, {
      params: { signalId: one.fogger },
      body: { rule, from: begin * 1000, to: end * 1000 },
    })
    return body
  }
  // Plainly: on from the first below 85 to the first above 90.
  let isOn = false
  const spans: { from: number; to: number }[] = []
  for (const { t, damp } of rows) {
    if (!isOn && damp < 85) spans.push({ from: t, to: end })
    const open = spans.at(-1)
    if (isOn && open && damp > 90) spans.splice(-1, 1, { ...open, to: t })
    isOn = isOn ? !(damp > 90) : damp < 85
  }
  const told = await tried(dampLow(one))
  expect(told.begins).toBe(spans.length)
  expect(
    told.stretches
      .filter(({ isActing }) => isActing)
      .map(({ from, to }) => ({ from: from / 1000, to: to / 1000 })),
  ).toEqual(spans)
  expect(told.seconds).toBe(spans.reduce((sum, { from, to }) => sum + to - from, 0))
  const openFrom = begin + 30 * 30
  expect(told.fights).toMatchObject([{ holder: 'Lid open', loser: null, held: 0, wished: 1 }])
  expect(told.fights[0]?.from).toBe(openFrom * 1000)
  expect((await tried(dampLow(one, { when: { formula: 'a < 60', atLeast: 0 } }))).begins).toBe(0)
  expect((await tried(dampLow(one, { when: { formula: 'a <', atLeast: 0 } }))).problem).toMatch(/character 4/)
})

it('waits over a restart for what has to hold a while, or for its inputs to be heard anew where that was asked for', async () => {
  let ahead = 0
  const now = () => Date.now() + ahead
  const first = await serverUnderTest({ now })
  const { body: kit } = await first.owner.call(routes.createKit, {
    body: {
      name: 'Vat',
      cadence: { by: 'event' },
      signals: signals.map((signal) => ({ ...signal, cadence: null })),
    },
  })
  const one = await board(first.owner, kit.id)
  await send(first.origin, one.token, { lid: true, damp: 80, fogger: false, fan: false })
  const long: Rule = { ...lidOpen(one), when: { formula: 'lid > 0.5', atLeast: 600 }, value: 1, otherwise: 0 }
  const goesOn = await made(one.fan, 'Open for long', long, 'on', first.owner)
  const forgets = await made(one.fogger, 'Forgets', { ...long, safeAfterAway: true }, 'on', first.owner)
  expect(await acts(goesOn, first.owner)).toEqual([])
  await first.close()
  ahead += 700_000
  const second = await startServer(testConfig(first.databaseUrl), { webRoot: undefined, now })
  others.push(second)
  const owner = new TestPerson(second.url)
  owner.cookie = first.owner.cookie
  await owner.until(
    () => asked(one.fan, owner),
    (all) => all.length === 1,
  )
  expect((await acts(goesOn, owner)).map(({ kind }) => kind)).toEqual(['begins'])
  expect((await acts(forgets, owner)).map(({ kind }) => kind)).toEqual(['unknown'])
  await send(second.url, one.token, { lid: true })
  await owner.until(
    () => acts(forgets, owner),
    (all) => all.at(-1)?.kind === 'known',
  )
})

describe('whatever server is killed when', () => {
  const kill = async ({ process }: SpawnedServer) => {
    const ended = once(process, 'exit')
    process.kill('SIGKILL')
    await ended
  }
  const at = (running: SpawnedServer, { cookie }: TestPerson) => {
    const person = new TestPerson(running.url)
    person.cookie = cookie
    return person
  }

  it('misses nothing and does nothing twice', async () => {
    const databaseUrl = await emptyDatabase()
    let running = await spawnServer(databaseUrl)
    let owner = new TestPerson(running.url)
    await owner.becomeOwner(running.firstRunToken)
    const { body: kit } = await owner.call(routes.createKit, {
      body: { name: 'Cave', cadence: { by: 'always', seconds: 600 }, signals },
    })
    const one = await board(owner, kit.id)
    const since = Date.now() / 1000 - 300
    expect((await send(running.url, one.token, { t: since, damp: 95, fogger: false })).status).toBe(204)
    const ruleId = await made(one.fogger, 'Humidity low', dampLow(one), 'on', owner)
    const expected: [string, number][] = []
    for (let round = 1; round <= 4; round++) {
      const damp = round % 2 === 1 ? 80 - round : 95 + round / 10
      expected.push([round % 2 === 1 ? 'begins' : 'ends', damp])
      expect((await send(running.url, one.token, { t: since + round, damp })).status).toBe(204)
      // At one time before it is judged, at another in the midst of it, at another after it was asked for.
      if (round % 3 === 0)
        await owner.until(
          () => acts(ruleId, owner),
          (all) => all.length === expected.length,
        )
      await kill(running)
      running = await spawnServer(databaseUrl)
      owner = at(running, owner)
    }
    const all = await owner.until(
      () => acts(ruleId, owner),
      (found) => found.length >= expected.length,
    )
    expect(all.map(({ kind, because }) => [kind, because[0]?.value])).toEqual(expected)
    const commands = await owner.until(
      () => asked(one.fogger, owner),
      (found) => found.length === 0 || found.at(-1)?.value === 0,
    )
    // It is never asked twice for the same in a row, and what is off is not asked to be off.
    const wished = commands.map(({ value }) => value)
    expect(wished.every((value, place) => value !== wished[place - 1])).toBe(true)
    expect(wished[0] ?? 1).toBe(1)
    await kill(running)
  }, 180_000)
})
