import type { Reading } from '@jaunty-sparrow/core'
import { pino } from 'pino'
import { type KeptMessage, MessageNumbers } from '../arrivals/keptMessage.ts'
import { RefusalRecorder } from '../arrivals/recorder.ts'
import { LiveHub } from '../live/hub.ts'
import { type Database, openDatabase } from '../store/database.ts'
import { Intake } from '../store/intake.ts'
import { byDay, byMonth, Partitions } from '../store/partitions.ts'
import { type ServerUnderTest, serverUnderTest } from '../testing/serverUnderTest.ts'
import { DeviceRegistry } from './deviceRegistry.ts'
import { GroupCommit } from './groupCommit.ts'
import { type ReceivedMessage, StraightWay } from './straightWay.ts'
import { Throttle } from './throttle.ts'

const log = pino({ level: 'silent' })
let server: ServerUnderTest
let database: Database
beforeAll(async () => {
  server = await serverUnderTest()
  database = openDatabase(server.databaseUrl, log)
})
afterAll(async () => {
  await database.$client.end()
  await server.close()
})

const message: ReceivedMessage = {
  door: 'mqtt',
  mediaType: 'application/json',
  tail: '',
  topic: '',
  body: Buffer.from('{"top": 6.4}'),
  receivedAt: Date.now(),
}

/** A straight way of its own, for a device that may send so much; what it writes can be got at on its way. */
async function straightWay(
  address: string,
  messagesPerMinute: number,
  through: (write: () => Promise<number>) => Promise<number>,
) {
  await server.owner.createDevice(address)
  await server.owner.limit(address, { messagesPerMinute })
  const registry = new DeviceRegistry(database)
  await registry.load()
  const pool = database.$client
  const intake = new Intake(
    pool,
    new Partitions(pool, 'reading', byMonth),
    new Partitions(pool, 'message', byDay),
  )
  const { next: number } = new MessageNumbers()
  const listener = new LiveHub(() => 0)
  const write = (readings: readonly Reading[], messages: readonly KeptMessage[]) =>
    through(() => intake.write(readings, messages))
  const way = new StraightWay({
    registry,
    listener,
    number,
    commit: new GroupCommit(write),
    recorder: new RefusalRecorder({
      number,
      write: (messages) => intake.write([], messages),
      tell: (refused) => listener.arrived(refused),
      log,
    }),
    throttle: new Throttle(() => 0),
  })
  const device = registry.get(address)
  if (!device) throw new Error(`${address} is not known`)
  return { way, device }
}

const again = async () => true

it('holds a message to the limits once, however often it has to be stored', async () => {
  let away = 3
  const { way, device } = await straightWay('vat', 1, async (write) => {
    if (away-- > 0) throw new Error('away')
    return write()
  })
  expect(await way.receive(device, message, again)).toMatchObject({ kind: 'stored', stored: 1 })
  expect(away).toBe(-1)
  expect(await way.receive(device, message, again)).toMatchObject({ kind: 'throttled' })
})

it('gives up at once where somebody else sends again', async () => {
  const { way, device } = await straightWay('mast', 10, () => Promise.reject(new Error('away')))
  await expect(way.receive(device, message)).rejects.toThrow('away')
})

it('stores once what was committed without being heard of', async () => {
  let lost = 2
  const { way, device } = await straightWay('pump', 10, async (write) => {
    const fresh = await write()
    if (lost-- > 0) throw new Error('the answer was lost')
    return fresh
  })
  // Of two in the same millisecond each keeps its instant.
  await Promise.all([way.receive(device, message, again), way.receive(device, message, again)])
  expect((await server.owner.values('pump', '/top')).map(([at]) => at)).toEqual([
    message.receivedAt,
    message.receivedAt + 1,
  ])
  const { rows } = await database.$client.query('select id from message where device_id = $1', [device.id])
  expect(rows).toHaveLength(2)
})
