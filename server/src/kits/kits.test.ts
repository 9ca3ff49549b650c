import { type BodyOf, routes } from '@jaunty-sparrow/contract'
import { type ServerUnderTest, send, serverUnderTest } from '../testing/serverUnderTest.ts'

let server: ServerUnderTest
beforeAll(async () => {
  server = await serverUnderTest()
})
afterEach(() => expect(server.faults.last).toBeUndefined())
afterAll(() => server.close())

type NewSignal = BodyOf<typeof routes.createKit>['signals'][number]
const number = (field: string, over: Partial<NewSignal> = {}): NewSignal => ({
  field,
  name: field.slice(1),
  kind: 'number',
  ...over,
})
const kitOf = async (name: string, signals: NewSignal[]) =>
  (await server.owner.call(routes.createKit, { body: { name, cadence: null, signals } })).body
const latest = async (address: string) =>
  Object.fromEntries(
    (await server.owner.device(address)).signals.map(({ name, part, latest }) => [
      part === '' ? name : `${name} ${part}`,
      latest?.value,
    ]),
  )

describe('a kit', () => {
  it('is made, read, changed, listed and deleted', async () => {
    const { owner } = server
    const kit = await kitOf('Mast', [
      number('/wind', { unit: 'm/s', order: 2 }),
      number('/light', { order: 1 }),
    ])
    expect(kit.signals.map(({ name, unit }) => [name, unit])).toEqual([
      ['light', null],
      ['wind', 'm/s'],
    ])
    await owner.createDevice('mast', kit.id)
    await owner.call(routes.changeKit, {
      params: { kitId: kit.id },
      body: { name: 'Weather mast', cadence: { by: 'sleep', seconds: 600 } },
    })
    await owner.call(routes.addSignalDefinition, { params: { kitId: kit.id }, body: number('/rain') })
    expect((await owner.device('mast')).signals.map(({ name }) => name)).toEqual(['rain', 'light', 'wind'])
    expect((await owner.device('mast')).cadence).toEqual({
      cadence: { by: 'sleep', seconds: 600 },
      source: 'stated',
    })
    const deletion = () => owner.call(routes.deleteKit, { params: { kitId: kit.id } })
    expect((await deletion()).body).toMatchObject({ detail: expect.stringContaining('Devices are made of') })
    expect((await owner.call(routes.listKits)).body).toContainEqual({
      id: kit.id,
      name: 'Weather mast',
      cadence: { by: 'sleep', seconds: 600 },
      constants: {},
      devices: ['mast'],
    })
    const empty = await kitOf('Nothing', [])
    expect((await owner.call(routes.deleteKit, { params: { kitId: empty.id } })).status).toBe(204)
    expect((await owner.call(routes.getKit, { params: { kitId: empty.id } })).status).toBe(404)
  })

  it.each([
    [number('/a', { kind: 'choice' }), /at least two states/],
    [number('/a', { unit: 'furlong' }), /no unit of UCUM/],
    [number('/a', { kind: 'momentary' }), /has to be controlled/],
    [number('/a', { range: { low: 5, high: 1 } }), /plausible range ends below/],
  ])('is refused in words where a signal contradicts itself', async (signal, words) => {
    const answer = await server.owner.call(routes.createKit, {
      body: { name: 'Odd', cadence: null, signals: [signal] },
    })
    expect(answer).toMatchObject({ status: 400, body: { detail: expect.stringMatching(words) } })
  })
})

describe('signals of every kind', () => {
  it('come through a door, and their latest is told', async () => {
    const choices = [
      { code: 0, name: 'idle' },
      { code: 7, name: 'washing down' },
    ]
    const kit = await kitOf('Everything', [
      number('/temp', { conversion: 'x * 0.01 - 40', unit: 'Cel' }),
      number('/temp', { name: 'raw' }),
      { field: '/lid', name: 'lid', kind: 'switch' },
      { field: '/state', name: 'state', kind: 'choice', choices },
      { field: '/says', name: 'says', kind: 'text' },
      { field: '/box', name: 'box', kind: 'position' },
    ])
    const { token } = await server.owner.createDevice('everything', kit.id)
    const sent = {
      temp: 6150,
      lid: true,
      state: 'Washing down',
      says: 'all well',
      box: { lat: 53.1, lon: -6.2 },
    }
    expect((await send(server.origin, token, sent)).status).toBe(204)
    const expected = {
      temp: 21.5,
      raw: 6150,
      lid: 1,
      state: 7,
      says: 'all well',
      box: { lat: 53.1, lon: -6.2 },
    }
    expect(await latest('everything')).toEqual(expected)
    const senml = [
      { n: 'says', vs: 'by SenML' },
      { n: 'lid', vb: false },
      { n: 'lat', u: 'lat', v: 10 },
      { n: 'lon', u: 'lon', v: 20 },
    ]
    const packed = await send(server.origin, token, senml, { 'Content-Type': 'application/senml+json' })
    expect(packed.status).toBe(204)
    expect(await latest('everything')).toMatchObject({
      says: 'by SenML',
      lid: 0,
      Position: { lat: 10, lon: 20 },
    })
    const again = await send(server.origin, token, [
      { t: 1_777_636_800, says: 'one' },
      { t: 1_777_636_800, says: 'two' },
    ])
    expect(again.body).toMatchObject({
      refused: [{ field: '/1/says', reason: expect.stringContaining('says one') }],
    })
    const other = await send(server.origin, token, {
      t: 1_777_636_800,
      says: 'three',
      box: { lat: 1, lon: 2 },
    })
    expect(other.body).toMatchObject({
      stored: 1,
      refused: [
        { field: '/says', reason: expect.stringContaining('one is stored for this instant already') },
      ],
    })
  })

  it('may have a unit that nobody can pick, where the device told it', async () => {
    const { token } = await server.owner.createDevice('told')
    const pack = [{ n: 'noise', u: 'Bspl', v: 4 }]
    await send(server.origin, token, pack, { 'Content-Type': 'application/senml+json' })
    await server.owner.accept('told', '/noise')
    expect((await server.owner.device('told')).signals).toMatchObject([{ unit: 'B[SPL]', state: 'accepted' }])
  })

  it('are suggested as what they look like', async () => {
    const { token } = await server.owner.createDevice('guessed')
    await send(server.origin, token, { n: 4, on: false, mode: 'eco', at: { lat: 1, lon: 2 } })
    const { signals } = await server.owner.device('guessed')
    expect(signals.map(({ field, kind }) => [field, kind])).toEqual([
      ['/n', 'number'],
      ['/on', 'switch'],
      ['/mode', 'text'],
      ['/at', 'position'],
    ])
  })
})

describe('like parts', () => {
  it('appear by themselves with all that the others have, up to 64', async () => {
    const kit = await kitOf('Vat', [
      number('/probes/{part}/temp', { name: 'Probe', unit: 'Cel', range: { low: -10, high: 110 } }),
    ])
    const { token } = await server.owner.createDevice('vat', kit.id)
    await server.owner.createDevice('other-vat', kit.id)
    await send(server.origin, token, { probes: { top: { temp: 4 }, bottom: { temp: 5 } } })
    await send(server.origin, token, { probes: { middle: { temp: 120 } } })
    expect(await latest('vat')).toEqual({ 'Probe top': 4, 'Probe bottom': 5, 'Probe middle': 120 })
    const middle = (await server.owner.device('vat')).signals.find(({ part }) => part === 'middle')
    expect(middle).toMatchObject({ field: '/probes/middle/temp', unit: 'Cel', latest: { quality: 1 } })
    expect((await server.owner.device('other-vat')).signals).toEqual([])
    const many = Object.fromEntries(Array.from({ length: 70 }, (_, n) => [`p${n}`, { temp: n }]))
    const answer = await send(server.origin, token, { probes: many })
    expect(answer.body).toMatchObject({ stored: 61 })
    const refused = (answer.body as { refused?: { reason: string }[] }).refused ?? []
    expect(refused).toHaveLength(9)
    expect(refused[0]?.reason).toMatch(/already has 64 parts of "Probe"/)
  })

  it('are made of single signals by saying so, with what was stored of each', async () => {
    const { token } = await server.owner.createDevice('wire')
    await send(server.origin, token, { p: { 1: { t: 4 }, 2: { t: 5 } } })
    await server.owner.accept('wire', '/p/1/t')
    const [first] = (await server.owner.device('wire')).signals
    const params = { definitionId: first?.definitionId ?? 0 }
    await server.owner.call(routes.changeSignalDefinition, {
      params,
      body: { field: '/p/{part}/t', name: 'Probe' },
    })
    expect(await latest('wire')).toEqual({ 'Probe 1': 4, 'Probe 2': 5 })
    await send(server.origin, token, { p: { 3: { t: 6 } } })
    expect(await latest('wire')).toEqual({ 'Probe 1': 4, 'Probe 2': 5, 'Probe 3': 6 })
  })
})

describe('what a signal is', () => {
  it('is remembered as it was, with who changed it, so that an old value can be explained', async () => {
    const kit = await kitOf('Brine', [number('/level', { unit: 'cm' })])
    await server.owner.createDevice('brine', kit.id)
    const [signal] = (await server.owner.device('brine')).signals
    const params = { definitionId: signal?.definitionId ?? 0 }
    const change = (body: BodyOf<typeof routes.changeSignalDefinition>) =>
      server.owner.call(routes.changeSignalDefinition, { params, body })
    await change({ name: 'Brine level', unit: 'm' })
    const { body: versions } = await server.owner.call(routes.listDescriptionVersions, {
      params: { signalId: signal?.id ?? 0 },
    })
    expect(versions.map(({ described }) => [described.name, described.settings])).toMatchObject([
      ['Brine level', { unit: 'm' }],
      ['level', { unit: 'cm' }],
    ])
    expect(versions[0]?.person).toBe('Ines Marlow')
    // What was stored as a number is no switch afterwards.
    expect((await change({ kind: 'switch' })).status).toBe(409)
  })
})

describe('what a device has its own of', () => {
  it('holds for it alone, is shown as its own, and is taken back', async () => {
    const kit = await kitOf('Cave', [number('/co2', { unit: '[ppm]', range: { low: 0, high: 5000 } })])
    const a = await server.owner.createDevice('cave-a', kit.id)
    const b = await server.owner.createDevice('cave-b', kit.id)
    const own = async (address: string) => (await server.owner.device(address)).signals[0]
    const signalId = (await own('cave-a'))?.id ?? 0
    const change = (body: BodyOf<typeof routes.changeOwnSettings>) =>
      server.owner.call(routes.changeOwnSettings, { params: { signalId }, body })
    await change({ set: { range: { low: 0, high: 800 }, decimals: 0 } })
    for (const { token } of [a, b]) await send(server.origin, token, { co2: 900 })
    expect(await own('cave-a')).toMatchObject({ own: ['range', 'decimals'], latest: { quality: 1 } })
    expect(await own('cave-b')).toMatchObject({ own: [], range: { high: 5000 }, latest: { quality: 0 } })
    await change({ takeBack: ['range'] })
    expect(await own('cave-a')).toMatchObject({ own: ['decimals'], range: { high: 5000 } })
    expect((await change({ set: { range: { low: 9, high: 1 } } })).status).toBe(400)
    const versions = (await server.owner.call(routes.listDescriptionVersions, { params: { signalId } })).body
    expect(versions.map(({ ofDevice, person, described }) => [ofDevice, person, described.range])).toEqual([
      [true, 'Ines Marlow', undefined],
      [true, 'Ines Marlow', { low: 0, high: 800 }],
      [false, 'Ines Marlow', undefined],
    ])
  })
})

describe('a calibration', () => {
  it('corrects on the way out from its instant on, and is taken back', async () => {
    const kit = await kitOf('Acidity', [number('/ph')])
    const { token } = await server.owner.createDevice('meter', kit.id)
    const at = Date.now() - 60_000
    const value = async () => (await server.owner.values('meter', '/ph')).map(([, value]) => value)
    await send(server.origin, token, [
      { t: at, ph: 6 },
      { t: at + 1000, ph: 7 },
      { t: at + 2000, ph: 5 },
    ])
    const signalId = (await server.owner.device('meter')).signals[0]?.id ?? 0
    const body = { gain: -2, offset: 1, validFrom: at + 500, evidence: 'Buffer 7 read 6.9.' }
    const { body: made } = await server.owner.call(routes.addCalibration, { params: { signalId }, body })
    expect(made).toMatchObject({ ...body, person: 'Ines Marlow', takenBackAt: null })
    expect(await value()).toEqual([6, -13, -9])
    expect(await latest('meter')).toEqual({ ph: -9 })
    const back = () => server.owner.call(routes.takeBackCalibration, { params: { calibrationId: made.id } })
    expect((await back()).status).toBe(204)
    expect((await back()).status).toBe(404)
    expect(await value()).toEqual([6, 7, 5])
    const { body: listed } = await server.owner.call(routes.listCalibrations, { params: { signalId } })
    expect(listed).toMatchObject([{ takenBackAt: expect.any(Number) }])
  })
})

it('what was changed is told as dated events, with who did it', async () => {
  const span = { from: 0, to: Date.now() + 1000 }
  const { body: kits } = await server.owner.call(routes.listEvents, { query: { ...span, kind: 'kit' } })
  expect(kits.at(-1)).toMatchObject({ says: 'The kit "Mast" was made.', person: 'Ines Marlow', kind: 'kit' })
  const { body: people } = await server.owner.call(routes.listEvents, { query: { ...span, kind: 'person' } })
  expect(people).toMatchObject([{ says: 'Ines Marlow became the owner.' }])
  const device = await server.owner.device('meter')
  const { body: own } = await server.owner.call(routes.listEvents, {
    query: { ...span, deviceId: device.id },
  })
  expect(own.map(({ says }) => says)).toEqual([
    'A calibration of "ph" was taken back.',
    '"ph" was calibrated: Buffer 7 read 6.9.',
    'The device "Device meter" was made.',
  ])
})

it('keeps how a kit is wired, and what to mind', async () => {
  const wiring = [{ pin: 'A0', wire: 'yellow', part: 'thermistor' }]
  const { body: made } = await server.owner.call(routes.createKit, {
    body: { name: 'Wired', cadence: null, wiring, notes: 'Hangs level.', signals: [] },
  })
  expect(made).toMatchObject({ wiring, notes: 'Hangs level.' })
  const params = { kitId: made.id }
  await server.owner.call(routes.changeKit, { params, body: { wiring: [] } })
  const { body: now } = await server.owner.call(routes.getKit, { params })
  expect(now).toMatchObject({ wiring: [], notes: 'Hangs level.' })
})

it('proposes which values mean a fault from what came, and not those that are stated', async () => {
  const { owner, origin } = server
  const { token } = await owner.createDevice('faulty')
  const start = Date.now() / 1000 - 100
  const values = [85, 4.1, 4.3, -127, 4.2, 4.4, 4.1, -127, 4.2, 4.3]
  await send(
    origin,
    token,
    values.map((value, n) => ({ t: start + n, probe: value })),
  )
  await owner.accept('faulty', '/probe')
  const signal = (await owner.device('faulty')).signals[0]
  const proposed = async () => {
    const { body } = await owner.call(routes.proposeFaults, { params: { signalId: signal?.id ?? 0 } })
    return body
  }
  expect(await proposed()).toEqual(
    expect.arrayContaining([
      { value: 85, name: 'just powered on', times: 1 },
      { value: -127, name: 'wire off', times: 2 },
    ]),
  )
  await owner.call(routes.changeSignalDefinition, {
    params: { definitionId: signal?.definitionId ?? 0 },
    body: { unit: 'Cel', faults: [{ value: -127, name: 'wire off' }] },
  })
  expect(await proposed()).toEqual([{ value: 85, name: 'just powered on', times: 1 }])
})

it('keeps a picture, which travels with it and is no part of what was done', async () => {
  const { owner } = server
  // The smallest PNG there is.
  const picture =
    'data:image/png;base64,iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg=='
  const { body: kit } = await owner.call(routes.createKit, {
    body: { name: 'Pictured', cadence: null, signals: [], picture },
  })
  expect(kit.picture).toBe(picture)
  const large = `data:image/jpeg;base64,${'A'.repeat(900_000)}`
  await owner.call(routes.changeKit, { params: { kitId: kit.id }, body: { picture: large } })
  expect((await owner.call(routes.getKit, { params: { kitId: kit.id } })).body.picture).toBe(large)
  const { body: events } = await owner.call(routes.listEvents, {
    query: { from: Date.now() - 600_000, to: Date.now() + 1000, changes: true },
  })
  expect(JSON.stringify(events)).toContain('a picture of 659 KiB')
  expect(JSON.stringify(events).length).toBeLessThan(100_000)
  for (const wrong of [
    'data:image/svg+xml;base64,AAAA',
    'https://somewhere.example/a.png',
    `${large}${large}`,
  ]) {
    const { status } = await owner.ask(routes.changeKit, {
      params: { kitId: kit.id },
      body: { picture: wrong },
    })
    expect([400, 413]).toContain(status)
  }
})
