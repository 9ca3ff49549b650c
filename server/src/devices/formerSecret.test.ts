import { routes } from '@jaunty-sparrow/contract'
import mqtt from 'mqtt'
import { startServer } from '../server.ts'
import { type ServerUnderTest, send, serverUnderTest, testConfig } from '../testing/serverUnderTest.ts'

const hour = 3_600_000

let server: ServerUnderTest
beforeAll(async () => {
  server = await serverUnderTest()
})
afterAll(() => server.close())

it('is good beside the new one until its time is over, also for who is connected', async () => {
  const { owner, origin, mqttPort, databaseUrl } = server
  const { token, secret } = await owner.createDevice('flashed')
  const connected = await mqtt.connectAsync(`mqtt://127.0.0.1:${mqttPort}`, {
    username: 'flashed',
    password: secret,
  })
  let isCut = false
  connected.on('close', () => {
    isCut = true
  })
  const { body } = await owner.call(routes.replaceSecret, {
    params: { address: 'flashed' },
    query: { overlap: 3600 },
  })
  const renewed = `flashed.${body.secret}`
  expect((await send(origin, token, { a: 1 })).status).toBe(204)
  expect((await send(origin, renewed, { a: 2 })).status).toBe(204)
  await connected.publishAsync('sparrow/flashed/in/a', '3', { qos: 1 })
  expect(isCut).toBe(false)
  await connected.endAsync()

  // A server that starts when the hour is over.
  const later = await startServer(testConfig(databaseUrl), {
    webRoot: undefined,
    now: () => Date.now() + 2 * hour,
  })
  expect((await send(later.url, token, { a: 4 })).status).toBe(401)
  expect((await send(later.url, renewed, { a: 5 })).status).toBe(204)
  await later.close()
})

it('stops at once where nothing else is asked for, and when it is replaced once more', async () => {
  const { owner, origin } = server
  const { token } = await owner.createDevice('lost')
  const params = { address: 'lost' }
  const { body: first } = await owner.call(routes.replaceSecret, { params, query: { overlap: 3600 } })
  await owner.call(routes.replaceSecret, { params })
  for (const old of [token, `lost.${first.secret}`])
    expect((await send(origin, old, { a: 1 })).status).toBe(401)
})
