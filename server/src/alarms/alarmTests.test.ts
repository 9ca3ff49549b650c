import { routes } from '@jaunty-sparrow/contract'
import { type Alarm, untoldAlarm } from '@jaunty-sparrow/core/signal'
import { type ServerUnderTest, serverUnderTest } from '../testing/serverUnderTest.ts'

const silence: Alarm = {
  ...untoldAlarm,
  key: 'silence',
  occasion: { by: 'silence', from: 'silent', atLeast: 0 },
  priority: 'urgent',
}
let now = Date.now()
let server: ServerUnderTest
beforeAll(async () => {
  server = await serverUnderTest({ now: () => now })
})
afterAll(() => server.close())

async function board(address: string, alarms: Alarm[]) {
  const { body: kit } = await server.owner.call(routes.createKit, {
    body: {
      name: address,
      cadence: { by: 'always', seconds: 600 },
      signals: [{ field: '/temp', name: 'Temperature', kind: 'number', alarms }],
    },
  })
  return server.owner.createDevice(address, kit.id)
}

const guardOf = async (token: string): Promise<unknown> => {
  const answer = await fetch(`${server.origin}/in?limits`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json', Authorization: `Bearer ${token}` },
    body: '{"temp":11}',
  })
  return ((await answer.json()) as { guard: unknown }).guard
}

it('lets a buzzer sound as if an alarm waited for a word, and be silent by itself', async () => {
  const { address, token } = await board('bench', [silence])
  const { token: other } = await board('beside', [silence])
  const { body } = await server.owner.call(routes.testBuzzer, { params: { address } })
  expect(body.until).toBeGreaterThan(now + 60_000)
  expect(await guardOf(token)).toEqual({ limits: {}, alarm: 'minor' })
  expect(await guardOf(other)).toEqual({ limits: {}, alarm: null })
  // Nothing stands because of it.
  const { body: listed } = await server.owner.call(routes.listAlarms)
  expect(listed.alarms.filter(({ deviceId }) => deviceId !== null)).toEqual([])
  now = body.until
  await server.owner.until(
    () => guardOf(token),
    (guard) => JSON.stringify(guard).includes('null'),
  )
})

it('tries no board that listens for nothing', async () => {
  const { address } = await board('deaf', [])
  const answer = await server.owner.call(routes.testBuzzer, { params: { address } })
  expect(answer).toMatchObject({
    status: 400,
    body: { detail: expect.stringMatching(/nothing to guard by/) },
  })
})

it('hangs a test on the walls of one site, and takes it down', async () => {
  const { body: site } = await server.owner.call(routes.createSite, {
    body: { name: 'Mill', timeZone: 'Europe/Vienna' },
  })
  const tried = async () => (await server.owner.call(routes.listAlarms)).body.triedWalls
  expect(await tried()).toEqual([])
  const { body } = await server.owner.call(routes.testWalls, { params: { siteId: site.id } })
  expect(await tried()).toEqual([site.id])
  now = body.until
  expect(await tried()).toEqual([])
})
