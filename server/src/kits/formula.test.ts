import { routes } from '@jaunty-sparrow/contract'
import { type ServerUnderTest, send, serverUnderTest } from '../testing/serverUnderTest.ts'

let server: ServerUnderTest
beforeAll(async () => {
  server = await serverUnderTest()
})
afterAll(() => server.close())

const volts = 'divider_to_ground(adc_volts(x, 12, 3.3), 3.3, series)'

it('makes what is sent into the unit of the signal, by other fields and the constants of kit and device', async () => {
  const { owner } = server
  const { body: kit } = await owner.call(routes.createKit, {
    body: {
      name: 'Brine node',
      cadence: null,
      constants: { series: 10_000 },
      signals: [
        {
          field: '/counts',
          name: 'Temperature',
          kind: 'number',
          unit: 'Cel',
          conversion: `thermistor_beta(${volts}, 10000, 3950)`,
          faults: [{ value: 4095, name: 'no thermistor' }],
        },
        {
          field: '/rh',
          name: 'Dew point',
          kind: 'number',
          unit: 'Cel',
          conversion: 'dew_point(field("/air"), x)',
        },
      ],
    },
  })
  const { token } = await server.owner.createDevice('brine', kit.id)
  const values = async () =>
    (await owner.device('brine')).signals.slice(0, 2).map(({ latest }) => latest?.value)

  const refused = await send(server.origin, token, { counts: 2048, rh: 50 })
  expect(refused.status).toBe(200)
  expect(refused.body).toMatchObject({
    refused: [{ field: '/rh', reason: expect.stringContaining('its message has no number at /air') }],
  })
  expect(await values()).toEqual([expect.closeTo(25, 9), undefined])
  await send(server.origin, token, { counts: 2048, rh: 50, air: 20 })
  expect(await values()).toEqual([expect.closeTo(25, 9), expect.closeTo(9.26, 1)])

  // Another resistor on this board alone.
  await owner.call(routes.changeDevice, {
    params: { address: 'brine' },
    body: { constants: { series: 33_620.6 } },
  })
  await send(server.origin, token, { counts: 2048, rh: 50, air: 20 })
  expect((await values())[0]).toBeCloseTo(0, 2)

  // What means a fault stays as it was sent, also where the formula makes nothing of it.
  await send(server.origin, token, { counts: 4095 })
  expect((await owner.device('brine')).signals[0]?.latest).toMatchObject({ value: 4095, quality: 8 })
})

it('refuses a conversion that cannot be read, and says where', async () => {
  const body = {
    name: 'Wrong',
    cadence: null,
    signals: [{ field: '/a', name: 'A', kind: 'number' as const, conversion: 'x * 2 +' }],
  }
  expect(await server.owner.call(routes.createKit, { body })).toMatchObject({
    status: 400,
    body: { detail: 'In the conversion at character 8: Something is missing at the end.' },
  })
  const constants = { name: 'Taken', cadence: null, constants: { pi: 3 }, signals: [] }
  expect(await server.owner.call(routes.createKit, { body: constants })).toMatchObject({
    status: 400,
    body: { detail: expect.stringContaining('"pi" means something else') },
  })
})

it('shows a doubt with the signal, and tells strangers only why', async () => {
  const { owner } = server
  const { token } = await owner.createDevice('doubted')
  await send(server.origin, token, { a: 1 })
  await owner.accept('doubted', '/a')
  const first = async () => (await owner.device('doubted')).signals[0]
  const params = { signalId: (await first())?.id ?? 0 }
  await owner.call(routes.changeDoubt, { params, body: { why: 'hangs in the sun' } })
  expect((await first())?.doubt).toEqual({
    why: 'hangs in the sun',
    person: expect.stringMatching(/./),
    at: expect.any(Number),
  })
  const { body: link } = await owner.call(routes.createShareLink, {
    params: { address: 'doubted' },
    body: { name: 'All', signalId: null, past: 'none', expiresAt: null, frameAncestors: [] },
  })
  const { body: page } = await owner.call(routes.getSharedPage, { params: { token: link.token } })
  expect(page.signals[0]?.doubt).toMatchObject({ why: 'hangs in the sun', person: '' })
  await owner.call(routes.changeDoubt, { params, body: { why: null } })
  expect((await first())?.doubt).toBeNull()
})
