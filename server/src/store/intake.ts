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
import { isTaken } from './databaseError.ts'
import type { Partitions } from './partitions.ts'

const insertReadings = `insert into reading (signal_id, at, received_at, value, quality)
  select * from unnest($1::int[], $2::timestamptz[], $3::timestamptz[], $4::float8[], $5::smallint[])`

const insertMessages = (first: number) => `insert into message
    (id, received_at, door, device_id, sender, media_type, tail, topic, body, outcome, stored, reason)
  select * from unnest($${first}::bigint[], $${first + 1}::timestamptz[], $${first + 2}::text[], $${first + 3}::int[],
    $${first + 4}::text[], $${first + 5}::text[], $${first + 6}::text[], $${first + 7}::text[], $${first + 8}::bytea[],
    $${first + 9}::text[], $${first + 10}::int[], $${first + 11}::text[])`

// What was committed and not heard of is written again: then it is known already, the message too.
const known = 'on conflict do nothing'
const allNew = { name: 'write-new', text: `with kept as (${insertMessages(6)}) ${insertReadings}` }
const someKnown = {
  name: 'write-known',
  text: `with kept as (${insertMessages(6)} ${known}) ${insertReadings} ${known}`,
}
const messagesOnly = { name: 'write-messages', text: `${insertMessages(1)} ${known}` }

/** In this order a batch goes in half as fast again, and two servers never wait for each other crosswise. */
const bySignalAndTime = (a: Reading, b: Reading): number => a.signal - b.signal || a.at - b.at

/** For so many batches after one that brought something again, it is expected of the next ones too. */
const wary = 1000

/** Writes what came in: readings and the messages they were in, with one statement that holds altogether or not at all. */
export class Intake {
  readonly #pool: pg.Pool
  readonly #readingPartitions: Partitions
  readonly #messagePartitions: Partitions
  #waryFor = 0

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
    const sorted = [...readings].sort(bySignalAndTime)
    const values = [
      int4Array(sorted, (r) => r.signal),
      timestamptzArray(sorted, atOf),
      timestamptzArray(sorted, receivedAtOf),
      float8Array(sorted, (r) => r.value),
      int2Array(sorted, (r) => r.quality),
      ...messageValues,
    ]
    return this.#insert(values)
  }

  /**
   * Nearly always every reading is new, and taking that for granted is cheaper than looking for each. Where one is not,
   * nothing of the batch went in, and it is written with care.
   */
  async #insert(values: unknown[]): Promise<number> {
    if (this.#waryFor === 0) {
      try {
        const { rowCount } = await this.#pool.query({ ...allNew, values })
        return rowCount ?? 0
      } catch (error) {
        if (!isTaken(error)) throw error
        this.#waryFor = wary
      }
    }
    this.#waryFor--
    const { rowCount } = await this.#pool.query({ ...someKnown, values })
    return rowCount ?? 0
  }
}

const atOf = ({ at }: Reading): number => at
const receivedAtOf = ({ receivedAt }: { readonly receivedAt: number }): number => receivedAt
