import type { Reading } from '@jaunty-sparrow/core'
import type pg from 'pg'
import type { KeptMessage } from '../arrivals/keptMessage.ts'
import {
  byteaArray,
  float8Array,
  int2Array,
  int4Array,
  int8Array,
  textArray,
  timestamptzArray,
} from './binaryArray.ts'
import type { Partitions } from './partitions.ts'

const insertReadings = `insert into reading (signal_id, at, received_at, value, quality)
  select * from unnest($1::int[], $2::timestamptz[], $3::timestamptz[], $4::float8[], $5::smallint[])
  on conflict (signal_id, at) do nothing`

const insertMessages = (first: number) => `insert into message
    (id, received_at, door, device_id, sender, media_type, tail, topic, body, outcome, stored, reason)
  select * from unnest($${first}::bigint[], $${first + 1}::timestamptz[], $${first + 2}::text[], $${first + 3}::int[],
    $${first + 4}::text[], $${first + 5}::text[], $${first + 6}::text[], $${first + 7}::text[], $${first + 8}::bytea[],
    $${first + 9}::text[], $${first + 10}::int[], $${first + 11}::text[])`

const both = { name: 'write-intake', text: `with kept as (${insertMessages(6)}) ${insertReadings}` }
const messagesOnly = { name: 'write-messages', text: insertMessages(1) }

const bySignal = (a: Reading, b: Reading): number => a.signal - b.signal

/** Writes what came in: readings and the messages they were in, with one statement that holds altogether or not at all. */
export class Intake {
  readonly #pool: pg.Pool
  readonly #readingPartitions: Partitions
  readonly #messagePartitions: Partitions

  constructor(pool: pg.Pool, readingPartitions: Partitions, messagePartitions: Partitions) {
    this.#pool = pool
    this.#readingPartitions = readingPartitions
    this.#messagePartitions = messagePartitions
  }

  /** A reading that is there already stays as it was. @returns how many were not */
  async write(readings: readonly Reading[], messages: readonly KeptMessage[]): Promise<number> {
    await this.#readingPartitions.ensure(readings, atOf)
    await this.#messagePartitions.ensure(messages, receivedAtOf)
    const messageValues = [
      int8Array(messages, (m) => m.id),
      timestamptzArray(messages, receivedAtOf),
      textArray(messages, (m) => m.door),
      int4Array(messages, (m) => m.deviceId ?? 0),
      textArray(messages, (m) => m.sender),
      textArray(messages, (m) => m.mediaType),
      textArray(messages, (m) => m.tail),
      textArray(messages, (m) => m.topic),
      byteaArray(messages, (m) => m.body),
      textArray(messages, (m) => m.outcome),
      int4Array(messages, (m) => m.stored),
      textArray(messages, (m) => m.reason),
    ]
    if (readings.length === 0) {
      await this.#pool.query({ ...messagesOnly, values: messageValues })
      return 0
    }
    // Sorted by signal, a batch goes in half as fast again.
    const sorted = [...readings].sort(bySignal)
    const readingValues = [
      int4Array(sorted, (r) => r.signal),
      timestamptzArray(sorted, atOf),
      timestamptzArray(sorted, receivedAtOf),
      float8Array(sorted, (r) => r.value),
      int2Array(sorted, (r) => r.quality),
    ]
    const { rowCount } = await this.#pool.query({ ...both, values: [...readingValues, ...messageValues] })
    return rowCount ?? 0
  }
}

const atOf = ({ at }: Reading): number => at
const receivedAtOf = ({ receivedAt }: { readonly receivedAt: number }): number => receivedAt
