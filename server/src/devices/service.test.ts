import { type BodyOf, type NewSignalDefinition, routes } from '@jaunty-sparrow/contract'
import { run } from '../testing/run.ts'
import { type ServerUnderTest, send, serverUnderTest } from '../testing/serverUnderTest.ts'

let server: ServerUnderTest
beforeAll(async () => {
  server = await serverUnderTest()
})
afterAll(() => server.close())

async function kitOf(name: string, signals: NewSignalDefinition[]) {
  const { body } = await server.owner.call(routes.createKit, { body: { name, cadence: null, signals } })
  return body
}

const number = (field: string, name: string, unit: string | null = null): NewSignalDefinition => ({
  field,
  name,
  kind: 'number',
  unit,
})

const byName = async (address: string) =>
  new Map((await server.owner.device(address)).signals.map((signal) => [signal.name, signal]))

/** Readings of a signal as they are shown, in order. */
async function shown(signal: number | undefined): Promise<number[]> {
  const to = Date.now() + 60_000
  const { body } = await server.owner.call(routes.getTraces, {
    query: { signals: String(signal), from: to - 3_600_000, to, columns: 4000 },
  })
  return (body[0]?.points ?? []).map(([, value]) => value)
}

const change = (address: string, body: BodyOf<typeof routes.changeDevice>) =>
  server.owner.ask(routes.changeDevice, { params: { address }, body })

describe('a device that is given another kit', () => {
  it('carries on what is of the same field, kind and dimension, and keeps the rest to be looked back at', async () => {
    const { owner, origin } = server
    const first = await kitOf('Shed', [
      number('/air', 'Air', 'Cel'),
      number('/damp', 'Damp', '%'),
      { field: '/door', name: 'Door', kind: 'switch' },
      number('/probes/{part}', 'Probe', 'Cel'),
    ])
    const second = await kitOf('Cellar', [
      number('/air', 'Air in it', '[degF]'),
      number('/damp', 'Water in the air', 'g/m3'),
      number('/door', 'Door angle', 'deg'),
      number('/probes/{part}', 'Feeler', 'Cel'),
      number('/light', 'Light', 'lx'),
    ])
    const { token } = await owner.createDevice('moved', first.id)
    const since = Date.now() / 1000 - 60
    await send(origin, token, { t: since, air: 20, damp: 50, door: true, probes: { a: 1, b: 2 } })
    await owner.call(routes.addCalibration, {
      params: { signalId: (await byName('moved')).get('Air')?.id ?? 0 },
      body: { gain: 1, offset: 1, validFrom: 0, evidence: 'a better thermometer' },
    })
    const before = await byName('moved')
    const where = { address: 'moved', kitId: second.id }
    const { body: foreseen } = await owner.call(routes.previewKitExchange, { params: where })
    expect(foreseen).toEqual({
      carriedOn: [
        { name: 'Air', becomes: 'Air in it', isConverted: true },
        { name: 'Probe', becomes: 'Feeler', isConverted: false },
      ],
      former: ['Damp', 'Door'],
      fresh: ['Water in the air', 'Door angle', 'Light'],
    })
    expect((await owner.call(routes.exchangeKit, { params: where })).body).toEqual(foreseen)
    await send(origin, token, { t: since + 30, air: 70, damp: 9, door: 30, light: 5, probes: { a: 3 } })

    const after = await byName('moved')
    expect(after.get('Air in it')?.id).toBe(before.get('Air')?.id)
    // 20 °C, corrected by 1 °C, are 69.8 °F; what comes in now is in °F, and corrected by as much.
    const air = await owner.until(
      () => shown(after.get('Air in it')?.id),
      (values) => (values[0] ?? 0) > 60,
    )
    expect(air.map((value) => Math.round(value * 1000) / 1000)).toEqual([69.8, 71.8])
    expect(after.get('Damp')).toMatchObject({ isFormer: true, id: before.get('Damp')?.id })
    expect(await shown(before.get('Damp')?.id)).toEqual([50])
    expect(await shown(after.get('Water in the air')?.id)).toEqual([9])
    expect(await shown(after.get('Light')?.id)).toEqual([5])
    const feelers = (await owner.device('moved')).signals.filter(({ name }) => name === 'Feeler')
    expect(feelers.map(({ part, latest }) => [part, latest?.value])).toEqual([
      ['a', 3],
      ['b', 2],
    ])

    // The history that hangs on the kit before is not thrown away with it.
    const { status, body } = await owner.ask(routes.deleteKit, { params: { kitId: first.id } })
    expect(status).toBe(409)
    expect(JSON.stringify(body)).toMatch(/its history would go with it/)
    // Back again, everything is where it was.
    await owner.call(routes.exchangeKit, { params: { address: 'moved', kitId: first.id } })
    await send(origin, token, { air: 10, damp: 60 })
    const again = await byName('moved')
    expect(again.get('Damp')).toMatchObject({ isFormer: false, id: before.get('Damp')?.id })
    expect(await shown(again.get('Damp')?.id)).toEqual([50, 60])
    expect(again.get('Light')?.isFormer).toBe(true)
  })
})

it('keeps address, history and settings when the hardware is replaced, and lets the old key die', async () => {
  const { owner, origin } = server
  const kit = await kitOf('Gauge', [number('/level', 'Level', 'cm')])
  const { token, address } = await owner.createDevice('gauge', kit.id)
  await send(origin, token, { level: 10 })
  const signalId = (await byName(address)).get('Level')?.id ?? 0
  await owner.call(routes.addCalibration, {
    params: { signalId },
    body: { gain: 1, offset: 5, validFrom: 0, evidence: 'a ruler' },
  })
  await owner.call(routes.changeDoubt, { params: { signalId }, body: { why: 'its cable is worn' } })
  const { body } = await owner.call(routes.replaceHardware, {
    params: { address },
    body: { endCalibrations: true },
  })
  expect((await send(origin, token, { level: 11 })).status).toBe(401)
  expect((await send(origin, `${address}.${body.secret}`, { level: 20 })).status).toBe(204)
  // What the board before said stays corrected; what the new one says is taken as it is.
  expect(await shown(signalId)).toEqual([15, 20])
  expect((await byName(address)).get('Level')?.doubt).toBeNull()
})

it('takes nothing of a device that was retired, keeps what is stored, and takes it back', async () => {
  const { owner, origin } = server
  const kit = await kitOf('Old probe', [number('/level', 'Level', 'cm')])
  const { token, address, secret } = await owner.createDevice('old', kit.id)
  await send(origin, token, { level: 10 })
  await change(address, { isRetired: true })
  expect(await owner.device(address)).toMatchObject({
    presence: 'retired',
    retiredAt: expect.any(Number),
    signals: [{ presence: 'retired', latest: { value: 10 } }],
  })
  const refused = await send(origin, token, { level: 11 })
  expect(refused.status).toBe(403)
  expect(refused.body.detail).toMatch(/was retired: nothing is taken of it/)
  const published = await run('mosquitto_pub', [
    ...['-p', String(server.mqttPort), '-q', '1', '-u', address, '-P', secret],
    ...['-t', `sparrow/${address}/in`, '-m', '{"level": 12}'],
  ])
  expect(published.code).not.toBe(0)
  // A stranger with another secret learns nothing of it.
  expect((await send(origin, `${address}.${'x'.repeat(20)}`, { level: 11 })).status).toBe(401)
  await change(address, { isRetired: false })
  expect((await send(origin, token, { level: 13 })).status).toBe(204)
  expect(await shown((await byName(address)).get('Level')?.id)).toEqual([10, 13])
})

it('is heard by its new address and by no other', async () => {
  const { owner, origin } = server
  const { token, secret } = await owner.createDevice('shed-1')
  await send(origin, token, { level: 10 })
  await owner.createDevice('shed-2')
  expect((await change('shed-1', { address: 'shed-2' })).status).toBe(409)
  expect((await change('shed-1', { address: 'barn' })).status).toBe(204)
  expect((await send(origin, token, { level: 11 })).status).toBe(401)
  expect((await send(origin, `barn.${secret}`, { level: 12 })).status).toBe(204)
  expect((await byName('barn')).get('Level')?.latest?.value).toBe(12)
  const { body } = await owner.call(routes.listDevices)
  expect(body.some(({ address }) => address === 'shed-1')).toBe(false)
})

it('is made like another one, with what that has of its own', async () => {
  const { owner, origin } = server
  const { token } = await owner.createDevice('first')
  await send(origin, token, { level: 10 })
  await owner.accept('first', '/level')
  const level = (await byName('first')).get('Level')
  await owner.call(routes.changeOwnSettings, {
    params: { signalId: level?.id ?? 0 },
    body: { set: { unit: 'cm', range: { low: 0, high: 50 } } },
  })
  await change('first', { messagesPerMinute: 77, constants: { height: 3 } })
  const { siteId } = await owner.device('first')
  const { body } = await owner.call(routes.createDevice, {
    body: { name: 'Second', address: 'second', siteId, copyOf: 'first' },
  })
  expect(body.device).toMatchObject({
    constants: { height: 3 },
    allowance: { stated: { messagesPerMinute: 77 } },
    signals: [
      { name: 'Level', unit: 'cm', range: { low: 0, high: 50 }, own: ['unit', 'range'], latest: null },
    ],
  })
  const { kit } = await owner.device('first')
  expect(body.device.kit).toEqual(kit)
  expect(kit.name).toBe('Device first')
})

it('says that a text cannot be stored, wherever it stands, and does not fail', async () => {
  const { owner } = server
  await owner.createDevice('nul')
  for (const body of [
    { name: 'a\u0000b' },
    { partNames: { 'a\u0000': 'b' } },
    { partNames: { a: '\u0000' } },
  ]) {
    const { status, body: problem } = await change('nul', body)
    expect(status).toBe(400)
    expect(JSON.stringify(problem)).toMatch(/U\+0000, which cannot be stored/)
  }
  expect(server.faults.last).toBeUndefined()
})

it('calls parts what people call them, and says where it is', async () => {
  const { owner, origin } = server
  const kit = await kitOf('Vat', [number('/probes/{part}', 'Probe', 'Cel')])
  const { token } = await owner.createDevice('vat', kit.id)
  await send(origin, token, { probes: { '28-ff': 4, '28-aa': 5 } })
  await change('vat', { partNames: { '28-ff': 'top' }, place: 'milk room, by the window' })
  const { signals, place } = await owner.device('vat')
  expect(place).toBe('milk room, by the window')
  expect(signals.map(({ part, partName }) => [part, partName])).toEqual([
    ['28-ff', 'top'],
    ['28-aa', '28-aa'],
  ])
})
