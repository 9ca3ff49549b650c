import { routes } from '@jaunty-sparrow/contract'
import { eq } from 'drizzle-orm'
import { pino } from 'pino'
import { MessageStore } from '../messages/messageStore.ts'
import { type Database, openDatabase } from '../store/database.ts'
import { device } from '../store/schema.ts'
import { type ServerUnderTest, send, serverUnderTest } from '../testing/serverUnderTest.ts'
import { DeviceRegistry } from './deviceRegistry.ts'

let server: ServerUnderTest
let database: Database
beforeAll(async () => {
  server = await serverUnderTest()
  database = openDatabase(server.databaseUrl, pino({ level: 'silent' }))
})
afterAll(async () => {
  await database.$client.end()
  await server.close()
})

const addresses = (registry: DeviceRegistry) => Array.from(registry.all(), ({ address }) => address).sort()

/** A registry as another server on the same database has it, with what it was told to let go of. */
async function neighbour() {
  const registry = new DeviceRegistry(database)
  const revoked: string[] = []
  registry.onRevoked((address) => revoked.push(address))
  await registry.load()
  return { registry, revoked }
}

it('forgets what was deleted elsewhere when it reads everything anew', async () => {
  await server.owner.createDevice('cave-1')
  await server.owner.createDevice('cave-2')
  const { registry, revoked } = await neighbour()
  const id = registry.get('cave-1')?.id ?? Number.NaN
  expect(registry.byId(id)?.address).toBe('cave-1')

  await server.owner.call(routes.deleteDevice, { params: { address: 'cave-1' } })
  await registry.load()
  expect(addresses(registry)).toEqual(['cave-2'])
  expect(registry.byId(id)).toBeUndefined()
  expect(revoked).toEqual(['cave-1'])
})

it('does not bring back what was forgotten while it was being read', async () => {
  await server.owner.createDevice('whey-pump')
  const { registry } = await neighbour()
  const reading = registry.load()
  await Promise.resolve()
  registry.forget('whey-pump')
  await reading
  expect(registry.get('whey-pump')).toBeUndefined()
})

it('ends with the newest, however many read at once', async () => {
  await server.owner.createDevice('milk-vat')
  const { registry } = await neighbour()
  const readings: Promise<void>[] = []
  for (let most = 1; most <= 20; most++) {
    await database.update(device).set({ messagesPerMinute: most }).where(eq(device.address, 'milk-vat'))
    readings.push(registry.load(registry.get('milk-vat')?.kitId))
  }
  await Promise.all(readings)
  expect(registry.get('milk-vat')?.allowance.messagesPerMinute).toBe(20)
})

it('knows after a start how often a device speaks, out of what is kept', async () => {
  const { token } = await server.owner.createDevice('weather-mast')
  for (let n = 0; n < 6; n++) expect((await send(server.origin, token, { light: n })).status).toBe(204)
  const messages = new MessageStore(database.$client)
  const { registry } = await neighbour()
  const mast = () => {
    const known = registry.get('weather-mast')
    if (!known) throw new Error('the mast is not known')
    return known
  }
  expect(registry.cadence(mast())).toBeNull()

  registry.recall(await messages.lastArrivals(4))
  const kept = await messages.list([mast().id], {}, 4)
  expect(mast().arrivals).toEqual(kept.map(({ receivedAt }) => receivedAt).reverse())
  expect(registry.cadence(mast())?.source).toBe('learned')
})

it('uses up no numbers for signals that are there already', async () => {
  const { token } = await server.owner.createDevice('frugal')
  await send(server.origin, token, { a: 1, b: 2, c: 3 })
  const { registry } = await neighbour()
  const known = registry.get('frugal')
  if (!known) throw new Error('the device is not known')
  // One server has described what the other has not heard of yet.
  await send(server.origin, token, { d: 4 })
  await registry.suggest(known, [{ pointer: '/d', kind: 'number', unit: null }])
  const { rows } = await database.$client.query<{ given: string; there: string }>(
    `select (select last_value from signal_id_seq) as given, (select max(id) from signal) as there
     union all select (select last_value from signal_definition_id_seq), (select max(id) from signal_definition)`,
  )
  expect(rows.map(({ given, there }) => Number(given) - Number(there))).toEqual([0, 0])
})
