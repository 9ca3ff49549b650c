import { spawn } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { createInterface } from 'node:readline'
import { type Command, type NewSignalDefinition, routes } from '@jaunty-sparrow/contract'
import { usualControl } from '@jaunty-sparrow/core/signal'
import { Cable } from '../testing/cable.ts'
import { LiveLine } from '../testing/liveLine.ts'
import { run } from '../testing/run.ts'
import {
  type ServerUnderTest,
  send,
  serverUnderTest,
  spendDay,
  TestPerson,
} from '../testing/serverUnderTest.ts'

let server: ServerUnderTest
let kitId: number
let count = 0
const usual = { ...usualControl, unless: [] }
beforeAll(async () => {
  server = await serverUnderTest()
  const relay = (more: Partial<NewSignalDefinition> = {}): NewSignalDefinition => ({
    field: '/fogger',
    name: 'Fogger',
    kind: 'switch',
    origin: 'controlled',
    ...more,
  })
  const lid = { says: 'the lid is open', formula: 'lid', inputs: [{ name: 'lid', named: 'Lid open' }] }
  const { body } = await server.owner.call(routes.createKit, {
    body: {
      name: 'Cave',
      cadence: { by: 'always', seconds: 30 },
      signals: [
        relay({ storing: { by: 'change', deadband: 0, heartbeat: 3600 } }),
        relay({ field: '/fan', name: 'Fan', control: { ...usual, leastOff: 300, mostAnHour: 2 } }),
        relay({
          field: '/stirrer',
          name: 'Stirrer',
          control: { ...usual, unless: [lid], validFor: 1 },
        }),
        relay({ field: '/pump', name: 'Pump', control: { ...usual, bare: true, role: 'owner' } }),
        { field: '/lid', name: 'Lid open', kind: 'switch' },
        relay({ field: '/lamp/red', name: 'Red', kind: 'number', range: { low: 0, high: 100 } }),
      ],
    },
  })
  kitId = body.id
})
afterAll(() => server.close())

/** A board of that kit, with the numbers of its signals by their names. */
async function board() {
  const { address, token } = await server.owner.createDevice(`board-${++count}`, kitId)
  const { signals, siteId } = await server.owner.device(address)
  const secret = token.slice(address.length + 1)
  return {
    address,
    token,
    secret,
    siteId,
    signal: Object.fromEntries(signals.map(({ name, id }) => [name, id])),
  }
}
type Board = Awaited<ReturnType<typeof board>>

const ask = async (signalId: number | undefined, value: number, who: TestPerson = server.owner) =>
  who.call(routes.requestCommands, { body: { signals: [signalId ?? 0], value } })

async function asked(signalId: number | undefined, value: number): Promise<Command> {
  const { body } = await ask(signalId, value)
  const [told] = body
  if (!told?.command) throw new Error(`it was refused: ${told?.refused}`)
  return told.command
}

/** Hears of commands as a page does. */
const page = async ({ signal }: Board) => {
  const line = await LiveLine.open(server.origin, server.owner.cookie, { subscribe: Object.values(signal) })
  const until = (id: number, state: Command['state']) =>
    line.hear((frame) =>
      frame.kind === 'commands'
        ? frame.commands.find((each) => each.id === id && each.state === state)
        : undefined,
    )
  return { until, close: () => line.close() }
}

/** What a client of others hears at a topic, line by line, from the moment it listens. */
async function listening({ address, secret }: Board, topic: string) {
  const client = spawn('stdbuf', [
    '-oL',
    'mosquitto_sub',
    '-d',
    '-p',
    String(server.mqttPort),
    '-u',
    address,
    '-P',
    secret,
    '-q',
    '1',
    '-t',
    `sparrow/${address}/${topic}`,
    '-F',
    '%t %p',
  ])
  const lines = createInterface({ input: client.stdout })[Symbol.asyncIterator]()
  const next = async (): Promise<string> => {
    for (;;) {
      const { value, done } = await lines.next()
      if (done) throw new Error('the client ended')
      if (String(value).startsWith('sparrow/')) return value
      if (String(value).includes('SUBACK')) return 'listens'
    }
  }
  expect(await next()).toBe('listens')
  return { next, stop: () => client.kill() }
}

const publish = ({ address, secret }: Board, topic: string, text: string) =>
  run('mosquitto_pub', [
    '-p',
    String(server.mqttPort),
    '-u',
    address,
    '-P',
    secret,
    '-q',
    '1',
    '-t',
    `sparrow/${address}/${topic}`,
    '-m',
    text,
  ])

it('goes to a board by MQTT, and is confirmed by what the board says it is', async () => {
  const cave = await board()
  const screen = await page(cave)
  const client = await listening(cave, 'set/#')
  const command = await asked(cave.signal.Fogger, 1)
  expect(command).toMatchObject({ state: 'requested', person: 'Ines Marlow', value: 1 })
  const [topic, text = ''] = (await client.next()).split(' ')
  expect(topic).toBe(`sparrow/${cave.address}/set/fogger`)
  expect(JSON.parse(text)).toEqual({ id: command.id, value: true, until: command.until })
  await screen.until(command.id, 'sent')
  await publish(cave, 'state/fogger', JSON.stringify({ id: command.id, says: 'done', value: true }))
  await screen.until(command.id, 'confirmed')
  const { signals } = await server.owner.device(cave.address)
  expect(signals.find(({ name }) => name === 'Fogger')?.latest?.value).toBe(1)
  client.stop()
  screen.close()
})

it('is confirmed by the ordinary field, also where what it says is not stored again', async () => {
  const cave = await board()
  await send(server.origin, cave.token, { fogger: true })
  const screen = await page(cave)
  const client = await listening(cave, 'set/fogger')
  const command = await asked(cave.signal.Fogger, 1)
  await client.next()
  // What was measured before it was told confirms nothing.
  await send(server.origin, cave.token, { fogger: true, t: command.requestedAt - 60_000 })
  expect((await listed(cave.signal.Fogger))[0]?.state).toBe('sent')
  await send(server.origin, cave.token, { fogger: true })
  await screen.until(command.id, 'confirmed')
  client.stop()
  screen.close()
})

const listed = async (signalId: number | undefined): Promise<Command[]> =>
  (await server.owner.call(routes.listCommands, { query: { signalId: signalId ?? 0 } })).body

it('waits for a board that is not there, and is sent again to one that comes back', async () => {
  const cave = await board()
  const command = await asked(cave.signal.Fogger, 1)
  const first = await listening(cave, 'set/#')
  const text = await first.next()
  expect(text).toContain(`"id":${command.id}`)
  first.stop()
  const second = await listening(cave, 'set/#')
  expect(await second.next()).toBe(text)
  second.stop()
})

it('is taken by a board that asks over HTTP, in the answer to its own message', async () => {
  const cave = await board()
  const post = (path: string, text: string) =>
    run('curl', [
      '-s',
      '-w',
      '%{http_code}',
      '-H',
      `Authorization: Bearer ${cave.token}`,
      '-H',
      'Content-Type: application/json',
      '-d',
      text,
      server.origin + path,
    ])
  expect((await post('/in?commands', '{"lid": false}')).out).toBe(
    '{"stored":1,"refused":[],"refusedTotal":0,"commands":[]}200',
  )
  const { id, until } = await asked(cave.signal.Red, 40)
  expect((await post('/in', '{"lid": false}')).out).toBe('204')
  const { commands } = JSON.parse((await post('/in?commands', '{"lid": false}')).out.slice(0, -3))
  expect(commands).toEqual([{ id, signal: 'lamp/red', value: 40, until }])
  expect((await post('/state/lamp/red', `{"id": ${id}, "says": "refused", "why": "too hot"}`)).out).toBe(
    '204',
  )
  expect((await listed(cave.signal.Red))[0]).toMatchObject({ state: 'refused', answer: 'too hot' })
  expect((await post('/state/lamp/red', '25')).out).toBe('204')
  const { signals } = await server.owner.device(cave.address)
  expect(signals.find(({ name }) => name === 'Red')?.latest?.value).toBe(25)
})

it('is refused before anything is sent where an interlock speaks against it, with the reason', async () => {
  const cave = await board()
  const refusal = async (name: string, value: number) =>
    (await ask(cave.signal[name], value)).body[0]?.refused
  expect(await refusal('Lid open', 1)).toContain('not controlled')
  expect(await refusal('Red', 101)).toContain('up to 100')
  expect(await refusal('Stirrer', 1)).toBe(
    'Whether the lid is open is not known: Lid open says nothing just now.',
  )
  await send(server.origin, cave.token, { lid: true })
  expect(await refusal('Stirrer', 1)).toBe('Not while the lid is open.')
  await send(server.origin, cave.token, { lid: false })
  expect(await refusal('Stirrer', 1)).toBeNull()
  // The lid opens while the command waits for a board that is not connected.
  await send(server.origin, cave.token, { lid: true })
  const client = await listening(cave, 'set/#')
  await send(server.origin, cave.token, { fan: true })
  await send(server.origin, cave.token, { fan: false })
  expect(await refusal('Fan', 1)).toContain('has to stay off for 5 min')
  expect(await refusal('Fan', 0)).toBeNull()
  expect(await client.next()).toContain('set/fan')
  expect((await listed(cave.signal.Stirrer))[0]).toMatchObject({
    state: 'refused',
    answer: 'Not while the lid is open.',
  })
  client.stop()
})

it('takes two wishes at once for one switch one after the other, and no more than it may', async () => {
  const cave = await board()
  const client = await listening(cave, 'set/#')
  const all = await Promise.all([0, 0, 0, 0, 0].map((value) => ask(cave.signal.Fan, value)))
  expect(all.every(({ status }) => status === 200)).toBe(true)
  const taken = await listed(cave.signal.Fan)
  // All but the last were replaced; nobody finds two open ones.
  expect(taken.filter(({ state }) => state === 'requested' || state === 'sent')).toHaveLength(1)
  expect(taken.slice(1).every(({ state, answer }) => state === 'expired' && answer.includes('else'))).toBe(
    true,
  )
  client.stop()
})

it('gives a board that cannot read JSON the bare value, and asks only whoever may', async () => {
  const cave = await board()
  const client = await listening(cave, 'set/pump')
  const { body: invitation } = await server.owner.call(routes.createInvitation, {
    body: { role: 'operator', siteIds: [cave.siteId] },
  })
  const operator = new TestPerson(server.origin)
  await operator.call(routes.acceptInvitation, {
    body: { token: invitation.token, person: { name: 'Tom Harrow', password: 'a gate, a goat, a bell' } },
  })
  expect((await ask(cave.signal.Pump, 1, operator)).status).toBe(403)
  expect((await ask(cave.signal.Fogger, 1, operator)).body[0]?.command?.person).toBe('Tom Harrow')
  await asked(cave.signal.Pump, 1)
  expect(await client.next()).toBe(`sparrow/${cave.address}/set/pump true`)
  client.stop()
})

it('ends when its time is over, as what it came to', async () => {
  const cave = await board()
  await send(server.origin, cave.token, { lid: false })
  const screen = await page(cave)
  const unsent = await asked(cave.signal.Stirrer, 1)
  expect(await screen.until(unsent.id, 'expired')).toMatchObject({ answer: 'It could not be sent in time.' })
  const client = await listening(cave, 'set/#')
  const silent = await asked(cave.signal.Stirrer, 1)
  expect(await screen.until(silent.id, 'expired')).toMatchObject({
    answer: 'The device did not report it in time.',
  })
  const stuck = await asked(cave.signal.Stirrer, 1)
  await screen.until(stuck.id, 'sent')
  await send(server.origin, cave.token, { stirrer: false })
  expect(await screen.until(stuck.id, 'otherwise')).toMatchObject({ reported: 0 })
  client.stop()
  screen.close()
})

it('takes no more answers of a device than it may send messages', async () => {
  const cave = await board()
  await server.owner.limit(cave.address, { messagesPerMinute: 1 })
  await spendDay(server.origin, cave.token)
  const answer = await fetch(`${server.origin}/state/fogger`, {
    method: 'POST',
    headers: { Authorization: `Bearer ${cave.token}` },
    body: '{"id": 1, "says": "done"}',
  })
  expect(answer.status).toBe(429)
})

it('goes down a cable as a line, and is answered by one', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'sparrow-down-'))
  const cable = new Cable(folder, 'ttyC')
  await cable.plugIn()
  const cave = await board()
  const screen = await page(cave)
  const command = await asked(cave.signal.Fogger, 1)
  await server.owner.call(routes.setSerialPort, {
    params: { address: cave.address },
    body: { path: cable.port, speed: 115_200, csvHeader: null },
  })
  const line = JSON.parse(await cable.hear())
  expect(line).toEqual({ set: 'fogger', id: command.id, value: true, until: command.until })
  await cable.print(`${JSON.stringify({ state: 'fogger', id: command.id, says: 'done', value: true })}\n`)
  await screen.until(command.id, 'confirmed')
  const { signals } = await server.owner.device(cave.address)
  expect(signals.find(({ name }) => name === 'Fogger')?.latest?.value).toBe(1)
  await asked(cave.signal.Fogger, 0)
  expect(await cable.hear()).toContain('"value":false')
  screen.close()
  await server.owner.call(routes.removeSerialPort, { params: { address: cave.address } })
  await cable.pull()
  rmSync(folder, { recursive: true, force: true })
})

it('is a dated event of whoever asked', async () => {
  const cave = await board()
  await asked(cave.signal.Fogger, 1)
  const { body } = await server.owner.call(routes.listEvents, {
    query: { from: Date.now() - 60_000, to: Date.now() + 1000, kind: 'command' },
  })
  expect(body[0]).toMatchObject({
    says: 'Fogger was asked for on.',
    person: 'Ines Marlow',
    signalId: cave.signal.Fogger,
  })
})
