import {
  type NewSignalDefinition,
  type Problem,
  routes,
  type StatedDerivation,
} from '@jaunty-sparrow/contract'
import { LiveLine } from '../testing/liveLine.ts'
import { type ServerUnderTest, send, serverUnderTest } from '../testing/serverUnderTest.ts'

let server: ServerUnderTest
beforeAll(async () => {
  server = await serverUnderTest()
})
afterAll(() => server.close())

const last = { by: 'last' } as const
const dewPoint: NewSignalDefinition & { derivation: NonNullable<StatedDerivation> } = {
  field: '',
  name: 'Dew point',
  kind: 'number',
  origin: 'derived',
  unit: 'Cel',
  derivation: {
    formula: 'dew_point(t, h)',
    inputs: [
      { name: 't', of: { named: 'Temperature' }, take: last, ageLimit: 600 },
      { name: 'h', of: { named: 'Humidity' }, take: last, ageLimit: 600 },
    ],
  },
}

async function weatherKit(name: string) {
  const { body } = await server.owner.call(routes.createKit, {
    body: {
      name,
      cadence: null,
      // What is derived may stand before what it follows from.
      signals: [
        dewPoint,
        { field: '/temp', name: 'Temperature', kind: 'number', unit: 'Cel' },
        { field: '/hum', name: 'Humidity', kind: 'number', unit: '%' },
      ],
    },
  })
  expect(body).toHaveProperty('id')
  return body
}

const signalOf = async (address: string, name: string, part = '') => {
  const found = (await server.owner.device(address)).signals.find(
    (signal) => signal.name === name && signal.part === part,
  )
  if (!found) throw new Error(`${address} has no signal ${name}`)
  return found
}

/** The next value of a signal that a page is told which is so. */
async function told(signal: number, isSo: (value: unknown) => boolean, act: () => Promise<unknown>) {
  const line = await LiveLine.open(server.origin, server.owner.cookie, { subscribe: [signal] })
  try {
    await line.hear((frame) => frame.kind === 'snapshot' || undefined)
    await act()
    return await line.hear((frame) =>
      frame.kind === 'readings' || frame.kind === 'snapshot'
        ? frame.signals
            .filter((each) => each.signal === signal)
            .flatMap(({ readings }) => readings)
            .find((reading) => isSo(reading[2]))
        : undefined,
    )
  } finally {
    line.close()
  }
}

it('follows from signals of its device, live, and explains itself', async () => {
  const { owner, origin } = server
  const kit = await weatherKit('Weather')
  const { token } = await owner.createDevice('mast', kit.id)
  const { id } = await signalOf('mast', 'Dew point')
  await told(
    id,
    (value) => typeof value === 'number',
    () => send(origin, token, { temp: 20, hum: 50 }),
  )
  const { body } = await owner.call(routes.explainValue, {
    params: { signalId: id },
    query: { at: Date.now() },
  })
  // Of the tables of meteorology: air of 20 °C and 50 % has its dew point at 9.3 °C.
  expect(body.shown).toBeCloseTo(9.3, 1)
  expect(body.derived).toMatchObject({
    formula: 'dew_point(t, h)',
    inputs: [
      { name: 't', value: 20 },
      { name: 'h', value: 50 },
    ],
  })
  expect(body.message).toBeNull()
})

it('follows from what was there before it was described, and is made anew when it is described otherwise', async () => {
  const { owner, origin } = server
  const { token } = await owner.createDevice('pump')
  await send(origin, token, [
    { t: Date.now() / 1000 - 20, power: 1000 },
    { t: Date.now() / 1000 - 10, power: 2000 },
  ])
  await owner.accept('pump', '/power')
  const power = await signalOf('pump', 'Power')
  const { kit } = await owner.device('pump')
  const derivation = {
    formula: 'p / 1000',
    inputs: [{ name: 'p', of: { definition: power.definitionId }, take: last, ageLimit: 60 }],
  }
  const values = async () => {
    const { id } = await signalOf('pump', 'Load')
    const to = Date.now() + 10_000
    const { body } = await owner.call(routes.getTraces, {
      query: { signals: String(id), from: to - 3_600_000, to, columns: 4000 },
    })
    return (body[0]?.points ?? []).map((point) => point[1])
  }
  await owner.call(routes.addSignalDefinition, {
    params: { kitId: kit.id },
    body: { field: '', name: 'Load', kind: 'number', origin: 'derived', unit: 'kW', derivation },
  })
  expect(await owner.until(values, (found) => found.length === 2)).toEqual([1, 2])
  const load = await signalOf('pump', 'Load')
  await owner.call(routes.changeSignalDefinition, {
    params: { definitionId: load.definitionId },
    body: { derivation: { ...derivation, formula: 'p / 100' } },
  })
  expect(await owner.until(values, (found) => found[0] === 10)).toEqual([10, 20])
  // What corrects an input corrects what follows from it.
  await owner.call(routes.addCalibration, {
    params: { signalId: power.id },
    body: { gain: 2, offset: 0, validFrom: 0, evidence: 'a better meter' },
  })
  expect(await owner.until(values, (found) => found[0] === 20)).toEqual([20, 40])
})

it('is there for each of like parts, also for one that comes later, and for a signal of another device', async () => {
  const { owner, origin } = server
  const outside = await owner.createDevice('outside')
  await send(origin, outside.token, { temp: 5 })
  await owner.accept('outside', '/temp')
  const { id: reference } = await signalOf('outside', 'Temp')
  const { body: kit } = await owner.call(routes.createKit, {
    body: {
      name: 'Vat with probes',
      cadence: null,
      signals: [
        { field: '/probes/{part}', name: 'Probe', kind: 'number' },
        {
          ...dewPoint,
          name: 'Above outside',
          derivation: {
            formula: 'probe - outside',
            inputs: [
              { name: 'probe', of: { named: 'Probe' }, take: last, ageLimit: 60 },
              { name: 'outside', of: { signal: reference }, take: last, ageLimit: 600 },
            ],
          },
        },
      ],
    },
  })
  const { token } = await owner.createDevice('vat', kit.id)
  await send(origin, token, { probes: { top: 6 } })
  const top = await signalOf('vat', 'Above outside', 'top')
  expect(
    await told(
      top.id,
      (value) => value === 3,
      () => send(origin, token, { probes: { top: 8 } }),
    ),
  ).toBeDefined()
  await send(origin, token, { probes: { deep: 6 } })
  const deep = await signalOf('vat', 'Above outside', 'deep')
  expect(
    await told(
      deep.id,
      (value) => value === 1,
      () => send(origin, token, { probes: { deep: 6 } }),
    ),
  ).toBeDefined()
})

it('refuses what would follow from itself, and tells the way', async () => {
  const { owner } = server
  const kit = await weatherKit('Round and round')
  await owner.createDevice('round', kit.id)
  const first = await signalOf('round', 'Dew point')
  const over = (definition: number) => ({
    formula: 'd',
    inputs: [{ name: 'd', of: { definition }, take: last, ageLimit: 60 }],
  })
  await owner.call(routes.addSignalDefinition, {
    params: { kitId: kit.id },
    body: { ...dewPoint, name: 'Second', derivation: over(first.definitionId) },
  })
  const second = await signalOf('round', 'Second')
  const refused = await owner.ask(routes.changeSignalDefinition, {
    params: { definitionId: first.definitionId },
    body: { derivation: over(second.definitionId) },
  })
  expect(refused.status).toBe(409)
  expect(JSON.stringify(refused.body)).toMatch(
    /It would follow from itself: .*(Dew point|Second).* from .*(Dew point|Second).* from .*\1/,
  )
  expect((await signalOf('round', 'Dew point')).derivation).toEqual(first.derivation)
})

it('says that a derived signal has no field, and does not leave one out silently', async () => {
  const kit = await weatherKit('With a field')
  const { status } = await server.owner.ask(routes.addSignalDefinition, {
    params: { kitId: kit.id },
    body: { ...dewPoint, field: '/dew', name: 'Read' },
  })
  expect(status).toBe(400)
})

it.each([
  [{ formula: 'dew_point(t, wrong)' }, /"wrong" is neither/],
  [
    { inputs: [{ ...dewPoint.derivation.inputs[0], of: { named: 'Nothing' } }] },
    /no signal called "Nothing"/,
  ],
  [{ inputs: [{ name: 't', take: last, ageLimit: 1, of: { signal: 99_999 } }] }, /no signal of number 99999/],
  [{ formula: 't + x' }, /nothing was sent/],
])('refuses %j with a reason', async (wrong, reason) => {
  const { owner } = server
  const kit = await weatherKit(`Wrong ${JSON.stringify(wrong).slice(0, 60)}`)
  const { status, body } = await owner.ask(routes.addSignalDefinition, {
    params: { kitId: kit.id },
    body: { ...dewPoint, name: 'Wrong', derivation: { ...dewPoint.derivation, ...wrong } as never },
  })
  expect(status).toBe(400)
  expect((body as unknown as Problem).detail).toMatch(reason)
})
