import pg from 'pg'
import { pino } from 'pino'
import { Faults } from '../life/faults.ts'
import type { KeptMessage } from '../messages/keptMessage.ts'
import { emptyDatabase } from '../testing/serverUnderTest.ts'
import { type Notice, Peers, readingsOf } from './peers.ts'

const log = pino({ level: 'silent' })
let url: string
let pool: pg.Pool
beforeAll(async () => {
  url = await emptyDatabase()
  pool = new pg.Pool({ connectionString: url })
  pool.on('error', () => undefined)
})
afterAll(() => pool.end())

const message: KeptMessage = {
  id: 1,
  receivedAt: 1_777_636_800_123,
  door: 'mqtt',
  deviceId: 7,
  sender: 'cave-1',
  mediaType: 'application/json',
  tail: '',
  topic: '',
  byHand: false,
  body: new TextEncoder().encode('{"co2": "x"}'),
  outcome: 'refused',
  stored: 0,
  reason: 'é'.repeat(900),
}

/** A server that remembers what it heard. */
async function peer(number: number) {
  const heard: Notice[] = []
  const waiting: (() => void)[] = []
  let listened = 0
  const peers = await Peers.join({
    url,
    pool,
    number: () => number,
    log,
    faults: new Faults(log, Date.now),
    heard: (notice) => {
      heard.push(notice)
      for (const look of waiting) look()
    },
    listening: async () => {
      listened++
      for (const look of waiting) look()
    },
  })
  const until = (fits: () => boolean) =>
    new Promise<void>((resolve) => {
      const look = () => fits() && resolve()
      waiting.push(look)
      look()
    })
  return { peers, heard, until, listened: () => listened }
}

it('tells the others and not itself, as soon as there is another one', async () => {
  const one = await peer(1)
  const two = await peer(2)
  await one.until(() => one.heard.some(({ kind }) => kind === 'hello'))
  await two.until(() => two.heard.some(({ kind }) => kind === 'here'))
  one.peers.tell({ kind: 'loaded', kitId: 5 })
  await two.until(() => two.heard.some(({ kind }) => kind === 'loaded'))
  expect(two.heard).toContainEqual({ kind: 'loaded', kitId: 5 })
  expect(one.heard.some(({ kind }) => kind === 'loaded')).toBe(false)

  const readings = Array.from({ length: 500 }, (_, n) => ({
    signal: n,
    at: 1_777_636_800_000 + n,
    receivedAt: 1_777_636_800_123,
    value: n / 7,
    quality: 0 as const,
  }))
  two.peers.tellReadings(readings, false)
  const told = () => one.heard.flatMap((notice) => (notice.kind === 'readings' ? readingsOf(notice) : []))
  await one.until(() => told().length === readings.length)
  expect(told().sort((a, b) => a.signal - b.signal)).toEqual(readings)
  await Promise.all([one.peers.close(), two.peers.close()])
})

it('tells of messages, a few of many, and how many more there were', async () => {
  const one = await peer(1)
  const two = await peer(2)
  await two.until(() => two.heard.some(({ kind }) => kind === 'here'))
  for (let id = 1; id <= 500; id++) two.peers.tellArrival({ ...message, id })
  const notices = () => one.heard.filter((notice) => notice.kind === 'arrivals')
  const told = () => notices().flatMap(({ arrivals }) => arrivals)
  const skipped = () => notices().reduce((sum, notice) => sum + notice.skipped, 0)
  await one.until(() => told().length + skipped() === 500)
  expect(notices().length).toBeLessThan(5)
  expect(told().length).toBeGreaterThan(10)
  expect(told()[0]).toEqual({
    ...{
      id: 1,
      receivedAt: message.receivedAt,
      door: 'mqtt',
      deviceId: 7,
      sender: 'cave-1',
      tail: '',
      topic: '',
      byHand: false,
    },
    ...{ mediaType: 'application/json', size: 12, outcome: 'refused', stored: 0, reason: 'é'.repeat(200) },
  })
  await Promise.all([one.peers.close(), two.peers.close()])
})

it('takes up a line that was broken, and says that there is something to be read', async () => {
  const one = await peer(1)
  const two = await peer(2)
  await one.until(() => one.heard.some(({ kind }) => kind === 'hello'))
  await pool.query(
    `select pg_terminate_backend(pid) from pg_stat_activity
     where application_name = 'jaunty-sparrow peers' and datname = current_database()`,
  )
  await Promise.all([one, two].map(({ until, listened }) => until(() => listened() === 2)))
  two.peers.tell({ kind: 'sites' })
  await one.until(() => one.heard.some(({ kind }) => kind === 'sites'))
  await Promise.all([one.peers.close(), two.peers.close()])
})
