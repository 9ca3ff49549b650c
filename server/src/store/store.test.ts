import type { Reading } from '@jaunty-sparrow/core/signal'
import pg from 'pg'
import type { KeptMessage } from '../messages/keptMessage.ts'
import { MessageStore } from '../messages/messageStore.ts'
import { Append } from '../readings/append.ts'
import { ReadingPartitions } from '../readings/readingPartitions.ts'
import { ReadingStore } from '../readings/readingStore.ts'
import { emptyDatabase } from '../testing/serverUnderTest.ts'
import { migrateDatabase } from './database.ts'
import { byDay, Partitions } from './partitions.ts'

let pool: pg.Pool
let store: ReadingStore
let append: Append
beforeAll(async () => {
  const url = await emptyDatabase()
  await migrateDatabase(url)
  pool = new pg.Pool({ connectionString: url })
  store = new ReadingStore(pool)
  append = new Append(pool, new ReadingPartitions(pool))
})
afterAll(() => pool.end())

const write = (...readings: Reading[]) => append.write(readings, [])
const reading = (signal: number, at: number, value: number): Reading => ({
  signal,
  at,
  receivedAt: at + 7,
  value,
  quality: 0,
})

describe('ReadingStore', () => {
  // The edges of what a message can carry: before and after PostgreSQL's own epoch, numbers at both ends of a double.
  const instants = [
    Date.UTC(1999, 11, 31, 23, 59, 59, 999),
    Date.UTC(2000, 0, 1),
    Date.UTC(2026, 10, 23, 9, 30, 0, 1),
    Date.UTC(2150, 0, 1),
  ]
  it.each(instants)('gives back the instant %d to the millisecond', async (at) => {
    await write(reading(1, at, 1))
    expect(await store.at([1], [at])).toEqual([reading(1, at, 1)])
    const { rows } = await pool.query(
      'select extract(epoch from received_at)::float8 * 1000 as ms from reading where at = $1',
      [new Date(at)],
    )
    expect(Math.round(rows[0].ms)).toBe(at + 7)
  })

  it.each([0, -0.1, 1e-300, Number.MAX_VALUE, -Number.MAX_VALUE, 101_325.26])(
    'gives back the value %d to the last bit',
    async (value) => {
      await write(reading(2, 1e12, value))
      expect((await store.at([2], [1e12])).map((found) => found.value)).toEqual([value])
      await pool.query('delete from reading where signal_id = 2')
    },
  )

  it('keeps the first of two readings of one instant, in one batch and in two', async () => {
    await write(reading(3, 1e12, 1), reading(3, 1e12, 2))
    await write(reading(3, 1e12, 3))
    expect((await store.at([3], [1e12])).map((found) => found.value)).toEqual([1])
  })

  it('finds the newest of every signal across partitions', async () => {
    await pool.query(`insert into site (name, time_zone) values ('s', 'UTC')`)
    await pool.query('insert into kit default values')
    await pool.query(
      `insert into device (site_id, kit_id, name, address, secret_hash) values (1, 1, 'd', 'd', '')`,
    )
    await pool.query(
      `insert into signal_definition (kit_id, field, name, kind, state) values (1, '/a', 'a', 'number', 'accepted')`,
    )
    await pool.query('insert into signal (device_id, definition_id) values (1, 1)')
    await pool.query('delete from reading where signal_id = 1')
    await write(
      reading(1, Date.UTC(2026, 0, 5), 5),
      reading(1, Date.UTC(2026, 3, 5), 8),
      reading(1, Date.UTC(2025, 3, 5), 2),
    )
    expect(await store.latest(Date.UTC(2027, 0, 1))).toEqual([reading(1, Date.UTC(2026, 3, 5), 8)])
  })
})

describe('MessageStore', () => {
  const now = Date.UTC(2026, 10, 20, 12)
  const kept = (id: number, daysAgo: number, over: Partial<KeptMessage> = {}): KeptMessage => ({
    id,
    receivedAt: now - daysAgo * 86_400_000,
    door: 'http',
    deviceId: 1,
    sender: 'bench',
    mediaType: 'application/json',
    tail: '',
    topic: '',
    byHand: false,
    body: Buffer.from('{"temp": 21.5}'),
    outcome: 'stored',
    stored: 1,
    reason: '',
    ...over,
  })

  it('gives back every byte, finds by what is in it, and lets go after its time', async () => {
    const messages = new MessageStore(pool)
    const bytes = Uint8Array.from({ length: 256 }, (_, byte) => byte)
    await append.write(
      [],
      [
        kept(1, 9),
        kept(2, 1, { body: bytes }),
        kept(2 ** 52, 0, { outcome: 'refused', reason: 'wrong – €', deviceId: null }),
      ],
    )
    expect((await messages.find(1, 2))?.body).toEqual(Buffer.from(bytes))
    expect(await messages.list([0, 1], {}, 10)).toMatchObject([
      { id: 2 ** 52, reason: 'wrong – €', deviceId: null },
      { id: 2, size: 256 },
      { id: 1 },
    ])
    expect((await messages.list([0, 1], { text: 'TEMP' }, 10)).map(({ id }) => id)).toEqual([2 ** 52, 1])
    expect((await messages.list([0, 1], { outcome: 'refused' }, 10)).map(({ id }) => id)).toEqual([2 ** 52])
    expect((await messages.list([0, 1], { before: 2 }, 10)).map(({ id }) => id)).toEqual([1])

    const partitions = new Partitions(pool, 'message', byDay)
    expect(await partitions.dropBefore(now - 7 * 86_400_000)).toBe(1)
    expect((await messages.list([0, 1], {}, 10)).map(({ id }) => id)).toEqual([2 ** 52, 2])
  })
})
