import { routes } from '@jaunty-sparrow/contract'
import { startServer } from '../server.ts'
import { emptyDatabase, send, TestPerson, testConfig } from '../testing/serverUnderTest.ts'

const day = 86_400_000

/** A server on this database whose clock is off by so much; its owner is signed in. */
async function run(databaseUrl: string, offset: () => number, signedIn?: TestPerson) {
  const server = await startServer(testConfig(databaseUrl), {
    webRoot: undefined,
    now: () => Date.now() + offset(),
  })
  const owner = new TestPerson(server.url)
  if (signedIn) Object.assign(owner, { cookie: signedIn.cookie, csrfToken: signedIn.csrfToken })
  else await owner.becomeOwner(server.firstRunToken)
  return { server, owner }
}

const messages = async (owner: TestPerson) => (await owner.call(routes.listArrivals)).body.length
const condition = async (owner: TestPerson) => (await owner.call(routes.getCondition)).body.clock

it('drops nothing that is kept, and hides nothing that comes after, until the clock is right or confirmed', async () => {
  const databaseUrl = await emptyDatabase()
  const first = await run(databaseUrl, () => 0)
  const { token } = await first.owner.createDevice('vat')
  const { token: old } = await first.owner.createDevice('old')
  for (let n = 0; n < 5; n++) await send(first.server.url, token, { n })
  await send(first.server.url, old, { n: 1 })
  expect(await condition(first.owner)).toBeNull()
  await first.server.close()

  // Sessions end with the clock, so this person comes in by a session that is long enough.
  let offset = 20 * day
  const ahead = await run(databaseUrl, () => offset, first.owner)
  expect(await condition(ahead.owner)).toMatchObject({ why: 'ahead' })
  expect(await messages(ahead.owner)).toBe(6)
  expect((await fetch(`${ahead.server.url}/readyz`)).status).toBe(503)
  await send(ahead.server.url, token, { n: 100 })
  offset = 0
  await send(ahead.server.url, token, { n: 200 })
  const [signal] = (await ahead.owner.device('vat')).signals
  expect(signal?.latest?.value).toBe(200)
  await ahead.server.close()

  const right = await run(databaseUrl, () => 0, first.owner)
  expect(await condition(right.owner)).toBeNull()
  expect((await right.owner.device('vat')).signals[0]?.latest?.value).toBe(200)
  expect(await messages(right.owner)).toBe(8)
  await right.server.close()

  const off = await run(databaseUrl, () => 20 * day, first.owner)
  expect(await messages(off.owner)).toBe(8)
  await off.owner.call(routes.confirmClock)
  expect(await condition(off.owner)).toBeNull()
  // Of the kept messages only the one is left that was stamped while the clock was ahead.
  for (let look = 0; (await messages(off.owner)) > 1 && look < 200; look++)
    await new Promise((soon) => setTimeout(soon, 25))
  expect(await messages(off.owner)).toBe(1)
  await off.server.close()
})

it('believes devices’ times that were, where its own clock was set back', async () => {
  const databaseUrl = await emptyDatabase()
  const first = await run(databaseUrl, () => 0)
  const { token } = await first.owner.createDevice('clocked')
  await send(first.server.url, token, { n: 0 })
  await first.server.close()
  const back = await run(databaseUrl, () => -5 * day, first.owner)
  expect(await condition(back.owner)).toMatchObject({ why: 'behind' })
  expect((await send(back.server.url, token, { n: 1, t: Date.now() - 1000 })).status).toBe(204)
  await back.server.close()
})
