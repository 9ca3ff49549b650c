import type { Reading } from '@jaunty-sparrow/core'
import pg from 'pg'
import { emptyDatabase } from '../testing/serverUnderTest.ts'
import { migrateDatabase } from './database.ts'
import { Partitions } from './partitions.ts'
import { ReadingStore } from './readings.ts'

let pool: pg.Pool
let store: ReadingStore
let partitions: Partitions
beforeAll(async () => {
  const url = await emptyDatabase()
  await migrateDatabase(url)
  pool = new pg.Pool({ connectionString: url })
  store = new ReadingStore(pool)
  partitions = new Partitions(pool)
})
afterAll(() => pool.end())

const write = async (...readings: Reading[]) => {
  await partitions.ensure(readings)
  await store.write(readings)
}
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
    expect((await store.between([1], at, at + 1)).get(1)).toEqual([[at, 1]])
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
      expect((await store.between([2], 1e12, 1e12 + 1)).get(2)).toEqual([[1e12, value]])
      await store.delete([2])
    },
  )

  it('keeps the first of two readings of one instant, in one batch and in two', async () => {
    await write(reading(3, 1e12, 1), reading(3, 1e12, 2))
    await write(reading(3, 1e12, 3))
    expect((await store.between([3], 0, 2e12)).get(3)).toEqual([[1e12, 1]])
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
    await store.delete([1])
    await write(
      reading(1, Date.UTC(2026, 0, 5), 5),
      reading(1, Date.UTC(2026, 3, 5), 8),
      reading(1, Date.UTC(2025, 3, 5), 2),
    )
    expect(await store.latest()).toEqual([reading(1, Date.UTC(2026, 3, 5), 8)])
  })
})
