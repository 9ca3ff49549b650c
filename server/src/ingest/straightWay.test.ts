import type { Reading } from '@jaunty-sparrow/core/signal'
import { pino } from 'pino'
import { DeviceRegistry } from '../devices/deviceRegistry.ts'
import { Drops } from '../devices/drops.ts'
import { Throttle } from '../devices/throttle.ts'
import { Faults } from '../life/faults.ts'
import { type KeptMessage, MessageNumbers } from '../messages/keptMessage.ts'
import { MessageStore } from '../messages/messageStore.ts'
import { RefusalRecorder } from '../messages/recorder.ts'
import { Append } from '../readings/append.ts'
import { ReadingPartitions } from '../readings/readingPartitions.ts'
import type { Written } from '../readings/written.ts'
import { type Database, openDatabase } from '../store/database.ts'
import { type ServerUnderTest, serverUnderTest } from '../testing/serverUnderTest.ts'
import { Decoding } from './decoding.ts'
import { GroupCommit } from './groupCommit.ts'
import type { ReceivedMessage } from './receivedMessage.ts'
import { StraightWay } from './straightWay.ts'

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
  through: (write: () => Promise<Written>) => Promise<Written>,
) {
  await server.owner.createDevice(address)
  await server.owner.limit(address, { messagesPerMinute })
  const registry = new DeviceRegistry(database)
  await registry.load()
  const pool = database.$client
  const append = new Append(pool, new ReadingPartitions(pool))
  const { next: number } = new MessageNumbers()
  const drops = new Drops()
  const listener = { readings: () => undefined, arrived: () => undefined, deviceChanged: () => undefined }
  const write = (readings: readonly Reading[], messages: readonly KeptMessage[]) =>
    through(() => append.write(readings, messages))
  const way = new StraightWay({
    registry,
    listener,
    number,
    numbering: { isHeld: true, held: async () => undefined },
    commit: new GroupCommit(write),
    recorder: new RefusalRecorder({
      number,
      write: (messages) => append.write([], messages),
      tell: () => undefined,
      log,
    }),
    throttle: new Throttle(() => 0),
    decoding: new Decoding(10_000),
    drops,
    faults: new Faults(log, Date.now),
    correct: (kept) => new MessageStore(pool).correct(kept),
    monthsBegun: () => 0,
    newestKnown: () => 0,
    lastOf: () => undefined,
    isClockDoubted: () => false,
  })
  const device = registry.get(address)
  if (!device) throw new Error(`${address} is not known`)
  return { way, device, drops }
}

const again = { tryAgain: async () => true }
const away = () => Object.assign(new Error('away'), { code: '57P01' })

it('holds a message to its allowance once, however often it has to be stored', async () => {
  let times = 3
  const { way, device, drops } = await straightWay('vat', 1, async (write) => {
    if (times-- > 0) throw away()
    return write()
  })
  expect(await way.receive(device, message, again)).toMatchObject({ kind: 'stored', stored: 1 })
  expect(times).toBe(-1)
  for (let n = 1; n < 1440; n++) await way.receive(device, message, again)
  expect(await way.receive(device, message, again)).toMatchObject({ kind: 'throttled' })
  // Nobody sends it again, so its owner has to see that it is missing.
  expect(drops.of(device.id)).toMatchObject({ messages: 1, reason: expect.stringContaining('a minute (1)') })
  expect(await way.receive(device, { ...message, door: 'http' }, again)).toMatchObject({ kind: 'throttled' })
  expect(drops.of(device.id)).toMatchObject({ messages: 1 })
})

it('gives up at once where somebody else sends again', async () => {
  const { way, device } = await straightWay('mast', 10, () => Promise.reject(away()))
  await expect(way.receive(device, message)).rejects.toThrow('away')
})

it('stores once what was committed without being heard of', async () => {
  let lost = 2
  const { way, device } = await straightWay('pump', 10, async (write) => {
    const fresh = await write()
    if (lost-- > 0) throw Object.assign(new Error('the answer was lost'), { code: '08006' })
    return fresh
  })
  // Of two in the same millisecond each keeps its instant.
  await Promise.all([way.receive(device, message, again), way.receive(device, message, again)])
  const stored = await database.$client.query<{ at: Date }>(
    'select at from reading join signal on signal.id = signal_id where device_id = $1 order by at',
    [device.id],
  )
  expect(stored.rows.map(({ at }) => at.getTime())).toEqual([message.receivedAt, message.receivedAt + 1])
  const { rows } = await database.$client.query('select id from message where device_id = $1', [device.id])
  expect(rows).toHaveLength(2)
})

it('refuses in words what the store will not take, also where nobody has claimed it', async () => {
  const { way, device } = await straightWay('odd', 10, () => Promise.reject(new Error('it is odd')))
  const refused = { kind: 'refused', problem: 'nothing-stored', detail: expect.stringContaining('it is odd') }
  expect(await way.receive(device, message)).toMatchObject(refused)
  expect(await way.receive(device, { ...message, topic: 'attic/temp' })).toMatchObject(refused)
})
