import { pino } from 'pino'
import { MessageNumbers } from '../arrivals/keptMessage.ts'
import { RefusalRecorder } from '../arrivals/recorder.ts'
import { LiveHub } from '../live/hub.ts'
import { openDatabase } from '../store/database.ts'
import { serverUnderTest } from '../testing/serverUnderTest.ts'
import { DeviceRegistry } from './deviceRegistry.ts'
import { GroupCommit } from './groupCommit.ts'
import { type ReceivedMessage, StraightWay } from './straightWay.ts'
import { Throttle } from './throttle.ts'

it('holds a message to the limits once, however often it has to be stored', async () => {
  const server = await serverUnderTest()
  await server.owner.createDevice('vat')
  await server.owner.limit('vat', { messagesPerMinute: 1 })
  const log = pino({ level: 'silent' })
  const database = openDatabase(server.databaseUrl, log)
  const registry = new DeviceRegistry(database)
  await registry.load()
  const store = { isAway: true }
  const { next: number } = new MessageNumbers()
  const listener = new LiveHub(() => 0)
  const write = async (messages: readonly unknown[]) => {
    if (store.isAway) throw new Error('away')
    return messages.length
  }
  const straightWay = new StraightWay({
    registry,
    listener,
    number,
    commit: new GroupCommit((_, messages) => write(messages)),
    recorder: new RefusalRecorder({ number, write, tell: (message) => listener.arrived(message), log }),
    throttle: new Throttle(() => 0),
  })
  const vat = registry.get('vat')
  if (!vat) throw new Error('the vat is not known')
  const message: ReceivedMessage = {
    door: 'mqtt',
    mediaType: 'application/json',
    tail: '',
    topic: '',
    body: Buffer.from('{"top": 6.4}'),
    receivedAt: 1_777_636_800_000,
  }

  await expect(straightWay.receive(vat, message)).rejects.toThrow('away')
  await expect(straightWay.receive(vat, message, true)).rejects.toThrow('away')
  store.isAway = false
  expect(await straightWay.receive(vat, message, true)).toMatchObject({ kind: 'stored', stored: 1 })
  expect(await straightWay.receive(vat, message)).toMatchObject({ kind: 'throttled' })
  await database.$client.end()
  await server.close()
})
