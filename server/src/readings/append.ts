import { isPosition, type Position, type Reading } from '@jaunty-sparrow/core/signal'
import partition from 'lodash-es/partition.js'
import type pg from 'pg'
import type { KeptMessage } from '../messages/keptMessage.ts'
import {
  boolArray,
  byteaArray,
  float8Array,
  int2Array,
  int4Array,
  int8Array,
  sparseFloat8Array,
  textArray,
  timestamptzArray,
} from '../store/binaryArray.ts'
import { isTaken } from '../store/databaseError.ts'
import { arrivalMarkStatement, arrivalMarkValues, ChangeKind } from './changeMarks.ts'
import type { ReadingPartitions } from './readingPartitions.ts'
import type { StoredOtherwise, Write } from './written.ts'

const insertNumbers = `insert into reading (signal_id, at, received_at, value, quality)
  select * from unnest($1::int[], $2::timestamptz[], $3::timestamptz[], $4::float8[], $5::smallint[])`

const insertConverted = (
  raw: number,
) => `insert into reading (signal_id, at, received_at, value, quality, raw)
  select * from unnest($1::int[], $2::timestamptz[], $3::timestamptz[], $4::float8[], $5::smallint[], $${raw}::float8[])`

const insertTexts = (first: number) => `insert into text_reading (signal_id, at, received_at, value, quality)
  select * from unnest($${first}::int[], $${first + 1}::timestamptz[], $${first + 2}::timestamptz[], $${first + 3}::text[],
    $${first + 4}::smallint[])`

const insertPositions = (
  first: number,
) => `insert into position_reading (signal_id, at, received_at, quality, lat, lon, height)
  select * from unnest($${first}::int[], $${first + 1}::timestamptz[], $${first + 2}::timestamptz[], $${first + 3}::smallint[],
    $${first + 4}::float8[], $${first + 5}::float8[], $${first + 6}::float8[])`

const insertMessages = (first: number) => `insert into message
    (id, received_at, door, device_id, sender, media_type, tail, topic, by_hand, body, outcome, stored, reason)
  select * from unnest($${first}::bigint[], $${first + 1}::timestamptz[], $${first + 2}::text[], $${first + 3}::int[],
    $${first + 4}::text[], $${first + 5}::text[], $${first + 6}::text[], $${first + 7}::text[], $${first + 8}::boolean[],
    $${first + 9}::bytea[], $${first + 10}::text[], $${first + 11}::int[], $${first + 12}::text[])`

// What was committed and not heard of is written again: then it is known already, the message too.
const known = 'on conflict do nothing'
const numbers = { messages: 6, mark: 19 }
const all = { raw: 6, texts: 7, positions: 12, messages: 19, mark: 32 }

const statement = (name: string, text: string) => ({ name, text })
const numbersWith = (onConflict: string) =>
  `with kept as (${insertMessages(numbers.messages)} ${onConflict}), marked as (${arrivalMarkStatement(numbers.mark)})
   ${insertNumbers} ${onConflict}`
const allWith = (onConflict: string) =>
  `with kept as (${insertMessages(all.messages)} ${onConflict}), marked as (${arrivalMarkStatement(all.mark)}),
     numbers as (${insertConverted(all.raw)} ${onConflict} returning 1),
     texts as (${insertTexts(all.texts)} ${onConflict} returning 1),
     positions as (${insertPositions(all.positions)} ${onConflict} returning 1)
   select 1 from numbers union all select 1 from texts union all select 1 from positions`
const statements = {
  numbers: {
    whenNew: statement('append-numbers-new', numbersWith('')),
    whenKnown: statement('append-numbers-known', numbersWith(known)),
  },
  all: {
    whenNew: statement('append-all-new', allWith('')),
    whenKnown: statement('append-all-known', allWith(known)),
  },
  messages: statement('append-messages', `${insertMessages(1)} ${known}`),
}

const instants = 'round(extract(epoch from at) * 1000)::float8'
const numbersOtherwise = `select signal_id, ${instants}, reading.value
  from unnest($1::int[], $2::timestamptz[], $3::float8[]) as sent (signal_id, at, value) join reading using (signal_id, at)
  where reading.value is distinct from sent.value`
const textsOtherwise = `select signal_id, ${instants}, text_reading.value
  from unnest($1::int[], $2::timestamptz[], $3::text[]) as sent (signal_id, at, value) join text_reading using (signal_id, at)
  where text_reading.value is distinct from sent.value`
const positionsOtherwise = `select signal_id, ${instants}, jsonb_build_object('lat', there.lat, 'lon', there.lon)
  from unnest($1::int[], $2::timestamptz[], $3::float8[], $4::float8[]) as sent (signal_id, at, lat, lon)
    join position_reading there using (signal_id, at)
  where (there.lat, there.lon) is distinct from (sent.lat, sent.lon)`

/** In this order a batch goes in half as fast again, and two servers never wait for each other crosswise. */
const bySignalAndTime = (a: Reading, b: Reading): number => a.signal - b.signal || a.at - b.at

/** For so many batches after one that brought something again, it is expected of the next ones too. */
const wary = 1000

type Of<V> = Reading & { readonly value: V }

/** Appends what came in: readings and the messages they were in, with one statement that holds altogether or not at all. */
export class Append {
  readonly #pool: pg.Pool
  readonly #partitions: ReadingPartitions
  #waryFor = 0

  constructor(pool: pg.Pool, partitions: ReadingPartitions) {
    this.#pool = pool
    this.#partitions = partitions
  }

  /** A reading that is there already stays as it was. @returns how many were not, and which are there with another value */
  readonly write: Write = async (readings, messages, cameIn = readings) => {
    await this.#partitions.ensure(readings, messages)
    // What a person brings never mingles with what comes in: it is written alone, and nobody was heard.
    const isByHand = messages.some(({ byHand }) => byHand)
    const heard = isByHand ? [] : cameIn
    if (readings.length === 0 && heard.length === 0) {
      await this.#pool.query({ ...statements.messages, values: messageValues(messages) })
      return { fresh: 0, otherwise: [] }
    }
    const sorted = [...readings].sort(bySignalAndTime)
    const isPlain = sorted.every(({ value, raw }) => typeof value === 'number' && raw === undefined)
    const markOf = (kind: ChangeKind) =>
      arrivalMarkValues(isByHand ? ChangeKind.fromThePast : kind, sorted, heard)
    const values = isPlain ? numberValues(sorted as Of<number>[]) : valuesOfAll(sorted)
    const fresh = await this.#insert(
      isPlain ? statements.numbers : statements.all,
      [...values, ...messageValues(messages)],
      markOf,
    )
    return { fresh, otherwise: fresh === readings.length ? [] : await this.#storedOtherwise(sorted) }
  }

  async #storedOtherwise(readings: readonly Reading[]): Promise<StoredOtherwise[]> {
    const { numbers, texts, positions } = byKind(readings)
    const found: StoredOtherwise[] = []
    const ask = async (text: string, asked: readonly Reading[], values: unknown[]) => {
      if (asked.length === 0) return
      const { rows } = await this.#pool.query<[number, number, Reading['value']]>({
        text,
        values: [signalsOf(asked), atsOf(asked), ...values],
        rowMode: 'array',
      } as pg.QueryArrayConfig)
      for (const [signal, at, value] of rows) found.push({ signal, at, value })
    }
    await ask(numbersOtherwise, numbers, [float8Array(numbers, ({ value }) => value)])
    await ask(textsOtherwise, texts, [textArray(texts, ({ value }) => value)])
    await ask(positionsOtherwise, positions, [
      float8Array(positions, ({ value }) => value.lat),
      float8Array(positions, ({ value }) => value.lon),
    ])
    return found
  }

  /**
   * Nearly always every reading is new, and taking that for granted is cheaper than looking for each. Where one is not,
   * nothing of the batch went in, and it is written with care.
   */
  async #insert(
    { whenNew, whenKnown }: typeof statements.all,
    written: readonly unknown[],
    markOf: (kind: ChangeKind) => unknown[],
  ): Promise<number> {
    if (this.#waryFor === 0) {
      try {
        const values = [...written, ...markOf(ChangeKind.added)]
        const { rowCount } = await this.#pool.query({ ...whenNew, values })
        return rowCount ?? 0
      } catch (error) {
        if (!isTaken(error)) throw error
        this.#waryFor = wary
      }
    }
    this.#waryFor--
    const values = [...written, ...markOf(ChangeKind.maybeKnown)]
    const { rowCount } = await this.#pool.query({ ...whenKnown, values })
    return rowCount ?? 0
  }
}

function valuesOfAll(sorted: readonly Reading[]): unknown[] {
  const { numbers, texts, positions } = byKind(sorted)
  return [
    ...numberValues(numbers),
    sparseFloat8Array(numbers, ({ raw }) => raw),
    signalsOf(texts),
    atsOf(texts),
    receivedAtsOf(texts),
    textArray(texts, ({ value }) => value),
    qualitiesOf(texts),
    signalsOf(positions),
    atsOf(positions),
    receivedAtsOf(positions),
    qualitiesOf(positions),
    float8Array(positions, ({ value }) => value.lat),
    float8Array(positions, ({ value }) => value.lon),
    sparseFloat8Array(positions, ({ value }) => value.height),
  ]
}

function byKind(readings: readonly Reading[]): {
  numbers: Of<number>[]
  texts: Of<string>[]
  positions: Of<Position>[]
} {
  const [numbers, others] = partition(readings, ({ value }) => typeof value === 'number')
  const [positions, texts] = partition(others, ({ value }) => isPosition(value))
  return {
    numbers: numbers as Of<number>[],
    texts: texts as Of<string>[],
    positions: positions as Of<Position>[],
  }
}

const signalsOf = (readings: readonly Reading[]) => int4Array(readings, ({ signal }) => signal)
const atsOf = (readings: readonly Reading[]) => timestamptzArray(readings, ({ at }) => at)
const receivedAtsOf = (readings: readonly Reading[]) =>
  timestamptzArray(readings, ({ receivedAt }) => receivedAt)
const qualitiesOf = (readings: readonly Reading[]) => int2Array(readings, ({ quality }) => quality)

const numberValues = (readings: readonly Of<number>[]): unknown[] => [
  signalsOf(readings),
  atsOf(readings),
  receivedAtsOf(readings),
  float8Array(readings, ({ value }) => value),
  qualitiesOf(readings),
]

const messageValues = (messages: readonly KeptMessage[]): unknown[] => [
  int8Array(messages, (m) => m.id),
  timestamptzArray(messages, (m) => m.receivedAt),
  textArray(messages, (m) => m.door),
  int4Array(messages, (m) => m.deviceId ?? 0),
  textArray(messages, (m) => m.sender),
  textArray(messages, (m) => m.mediaType),
  textArray(messages, (m) => m.tail),
  textArray(messages, (m) => m.topic),
  boolArray(messages, (m) => m.byHand),
  byteaArray(messages, (m) => m.body),
  textArray(messages, (m) => m.outcome),
  int4Array(messages, (m) => m.stored),
  textArray(messages, (m) => m.reason),
]
