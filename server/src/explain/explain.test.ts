import { routes } from '@jaunty-sparrow/contract'
import { type ServerUnderTest, send, serverUnderTest } from '../testing/serverUnderTest.ts'

let server: ServerUnderTest
beforeAll(async () => {
  server = await serverUnderTest()
})
afterAll(() => server.close())

it('explains a value by the formula that made it, also when another one holds now', async () => {
  const { owner } = server
  const { body: kit } = await owner.call(routes.createKit, {
    body: {
      name: 'Mast',
      cadence: null,
      constants: { height: 200 },
      signals: [
        {
          field: '/p',
          name: 'Pressure',
          kind: 'number',
          unit: 'hPa',
          conversion: 'sea_level_pressure(x / 100, height, field("/air"))',
          faults: [{ value: 0, name: 'no sensor' }],
        },
      ],
    },
  })
  const { token } = await owner.createDevice('mast', kit.id)
  await send(server.origin, token, { p: 99_000, air: 10 })
  const [signal] = (await owner.device('mast')).signals
  const params = { signalId: signal?.id ?? 0 }
  const made = signal?.latest
  const firstAt = made?.at ?? 0
  const explained = async (at: number) =>
    (await owner.call(routes.explainValue, { params, query: { at } })).body

  await owner.call(routes.changeSignalDefinition, {
    params: { definitionId: signal?.definitionId ?? 0 },
    body: { conversion: 'x / 100' },
  })
  await owner.call(routes.addCalibration, {
    params,
    body: { gain: 1, offset: 0.4, validFrom: 0, evidence: 'the station next door' },
  })
  expect(await explained(firstAt)).toEqual({
    at: firstAt,
    receivedAt: made?.receivedAt,
    raw: 99_000,
    derived: null,
    stored: made?.value,
    shown: Number(made?.value) + 0.4,
    quality: 0,
    fault: null,
    madeAnew: null,
    conversion: 'sea_level_pressure(x / 100, height, field("/air"))',
    fields: [{ name: '/air', value: 10 }],
    constants: [{ name: 'height', value: 200 }],
    said: { validFrom: expect.any(Number), ofDevice: false, person: expect.any(String), field: '/p' },
    calibration: expect.objectContaining({ offset: 0.4, evidence: 'the station next door' }),
    message: { id: expect.any(Number), door: 'http', size: 20, beginning: '{"p":99000,"air":10}' },
  })
  await send(server.origin, token, { p: 98_000 })
  const later = (await owner.device('mast')).signals[0]?.latest?.at ?? 0
  expect(await explained(later)).toMatchObject({
    raw: 98_000,
    stored: 980,
    conversion: 'x / 100',
    fields: [],
  })

  await owner.call(routes.changeOwnSettings, { params, body: { set: { conversion: 'x / 50' } } })
  await send(server.origin, token, { p: 97_000 })
  const own = (await owner.device('mast')).signals[0]?.latest?.at ?? 0
  expect(await explained(own)).toMatchObject({ stored: 1940, conversion: 'x / 50', said: { ofDevice: true } })

  await send(server.origin, token, { p: 0 })
  const fault = (await owner.device('mast')).signals[0]?.latest?.at ?? 0
  expect(await explained(fault)).toMatchObject({ raw: 0, fault: 'no sensor', conversion: null, shown: 0 })
})

it('says that there was none yet', async () => {
  const { token } = await server.owner.createDevice('shed')
  await send(server.origin, token, { a: 1 })
  const signalId = (await server.owner.device('shed')).signals[0]?.id ?? 0
  const answer = await server.owner.call(routes.explainValue, { params: { signalId }, query: { at: 1000 } })
  expect(answer).toMatchObject({ status: 404, body: { detail: expect.stringContaining('no reading up to') } })
})
