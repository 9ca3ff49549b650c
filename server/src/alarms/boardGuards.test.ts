import { EventEmitter, once } from 'node:events'
import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { routes } from '@jaunty-sparrow/contract'
import { type Alarm, untoldAlarm } from '@jaunty-sparrow/core/signal'
import { connectAsync } from 'mqtt'
import { Cable } from '../testing/cable.ts'
import { type ServerUnderTest, send, serverUnderTest } from '../testing/serverUnderTest.ts'

const limits = { lowLow: null, low: 82, high: 98, highHigh: null, deadband: 1, onDelay: 0, offDelay: 60 }
const low: Alarm = {
  ...untoldAlarm,
  key: 'low',
  occasion: { by: 'limit', limit: 'low' },
  priority: 'urgent',
}
let server: ServerUnderTest
let kitId: number
let count = 0
beforeAll(async () => {
  server = await serverUnderTest()
  const { body } = await server.owner.call(routes.createKit, {
    body: {
      name: 'Cave',
      cadence: { by: 'event' },
      signals: [
        { field: '/air/damp', name: 'Humidity', kind: 'number', unit: '%', limits, alarms: [low] },
        { field: '/volts', name: 'Light', kind: 'number', conversion: 'x * 100', limits },
      ],
    },
  })
  kitId = body.id
})
afterAll(() => server.close())

async function board() {
  const made = await server.owner.createDevice(`board-${++count}`, kitId)
  const device = await server.owner.device(made.address)
  const damp = device.signals.find(({ name }) => name === 'Humidity')?.id ?? 0
  return { ...made, id: device.id, damp, definitionId: device.signals[0]?.definitionId ?? 0 }
}
const asked = async (token: string, body: object) => {
  const answer = await fetch(`${server.origin}/in?limits`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json', Authorization: `Bearer ${token}` },
    body: JSON.stringify(body),
  })
  return ((await answer.json()) as { guard: unknown }).guard
}
const stated = { low: 82, high: 98, deadband: 1, after: 0, back: 60 }

it('answers by what a board guards, in what it sends, and whether an alarm waits for a word', async () => {
  const { token, damp } = await board()
  await server.owner.until(
    () => asked(token, { air: { damp: 90 } }),
    (guard) => JSON.stringify(guard).includes('82'),
  )
  // What is made by a formula the board cannot compare by itself.
  expect(await asked(token, { air: { damp: 90 } })).toEqual({ limits: { 'air/damp': stated }, alarm: null })
  await send(server.origin, token, { air: { damp: 80 } })
  await server.owner.until(
    () => asked(token, { air: { damp: 80 } }),
    (guard) => JSON.stringify(guard).includes('urgent'),
  )
  await server.owner.call(routes.moveAlarms, { body: { alarms: [`${damp}.low`], move: 'acknowledge' } })
  expect(await asked(token, { air: { damp: 80 } })).toMatchObject({ alarm: null })
  // Corrected by two percent, the board compares with what it sends itself.
  await server.owner.call(routes.addCalibration, {
    params: { signalId: damp },
    body: { gain: 1, offset: 2, validFrom: 0, evidence: 'salt' },
  })
  await server.owner.until(
    () => asked(token, { air: { damp: 80 } }),
    (guard) => JSON.stringify(guard).includes('"low":80'),
  )
})

it('is heard over MQTT, retained: at once by who comes later, and anew with each change', async () => {
  const { address, secret, token, damp } = await board()
  const client = await connectAsync(`mqtt://127.0.0.1:${server.mqttPort}`, {
    username: address,
    password: secret,
  })
  try {
    const heard: unknown[] = []
    const events = new EventEmitter()
    client.on('message', (topic, payload) => {
      if (topic === `sparrow/${address}/limits`) heard.push(JSON.parse(payload.toString()))
      events.emit('heard')
    })
    await client.subscribeAsync(`sparrow/${address}/limits`)
    while (heard.length < 1) await once(events, 'heard')
    expect(heard).toEqual([{ limits: { 'air/damp': stated }, alarm: null }])
    await server.owner.call(routes.changeOwnSettings, {
      params: { signalId: damp },
      body: { set: { limits: { ...limits, low: 85 } } },
    })
    while (heard.length < 2) await once(events, 'heard')
    expect(heard[1]).toMatchObject({ limits: { 'air/damp': { low: 85 } } })
    await send(server.origin, token, { air: { damp: 84 } })
    while (heard.length < 3) await once(events, 'heard')
    expect(heard[2]).toMatchObject({ alarm: 'urgent' })
    // Nobody else listens there.
    const other = await board()
    const stranger = await connectAsync(`mqtt://127.0.0.1:${server.mqttPort}`, {
      username: other.address,
      password: other.secret,
    })
    const [granted] = await stranger.subscribeAsync(`sparrow/${address}/limits`).catch(() => [undefined])
    expect(granted?.qos ?? 128).toBe(128)
    await stranger.endAsync()
  } finally {
    await client.endAsync()
  }
})

it('is told down a cable where the board asks for it, and again when it is otherwise', async () => {
  const { address, damp } = await board()
  const folder = await mkdtemp(join(tmpdir(), 'sparrow-cable-'))
  const cable = new Cable(folder, 'board')
  await cable.plugIn()
  try {
    await server.owner.call(routes.setSerialPort, {
      params: { address },
      body: { path: cable.port, speed: 115_200, csvHeader: null },
    })
    await cable.print('limits?\n')
    expect(JSON.parse(await cable.hear())).toEqual({ limits: { 'air/damp': stated }, alarm: null })
    await server.owner.call(routes.changeOwnSettings, {
      params: { signalId: damp },
      body: { set: { limits: { ...limits, low: 70 } } },
    })
    expect(JSON.parse(await cable.hear())).toMatchObject({ limits: { 'air/damp': { low: 70 } } })
    // It is a question, and no message.
    const { body: arrivals } = await server.owner.call(routes.listArrivals, { query: { limit: 5 } })
    expect(JSON.stringify(arrivals)).not.toContain('limits?')
  } finally {
    await server.owner.call(routes.removeSerialPort, { params: { address } })
    await cable.pull()
    await rm(folder, { recursive: true, force: true })
  }
})
