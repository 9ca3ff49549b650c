import type { RereadChange } from '@jaunty-sparrow/core/rereading'
import type { Position, SignalValue } from '@jaunty-sparrow/core/signal'
import type pg from 'pg'
import { type ChangeKind, markStatement, markValues } from './changeMarks.ts'
import { readingTables } from './readingTables.ts'

type Instant = Pick<RereadChange, 'signal' | 'at'>
type After = NonNullable<RereadChange['after']>
type Set<V> = RereadChange & { readonly after: After & { readonly value: V } }

const bySignalAndTime = (a: Instant, b: Instant): number => a.signal - b.signal || a.at - b.at

/**
 * Corrects single readings inside a transaction: each becomes what it is to be, or goes, and a mark is left.
 * @param kind what the mark says of it
 */
export async function correct(
  client: pg.ClientBase,
  changes: readonly RereadChange[],
  kind: ChangeKind,
): Promise<void> {
  if (changes.length === 0) return
  const gone = changes.filter(
    ({ before, after }) => before && (!after || tableOf(before.value) !== tableOf(after.value)),
  )
  const set = changes.filter((change): change is Set<SignalValue> => change.after !== null)
  await remove(client, gone)
  const numbers = set.filter((change): change is Set<number> => typeof change.after.value === 'number')
  const texts = set.filter((change): change is Set<string> => typeof change.after.value === 'string')
  const positions = set.filter((change): change is Set<Position> => typeof change.after.value === 'object')
  if (numbers.length > 0) {
    await client.query(
      `insert into reading (signal_id, at, received_at, quality, value, raw)
       select signal_id, to_timestamp(at / 1000), to_timestamp(received_at / 1000), quality, value, raw
       from unnest($1::int[], $2::float8[], $3::float8[], $4::smallint[], $5::float8[], $6::float8[])
         as given (signal_id, at, received_at, quality, value, raw)
       on conflict (signal_id, at) do update set value = excluded.value, raw = excluded.raw, quality = excluded.quality`,
      [
        ...stamps(numbers),
        numbers.map(({ after }) => after.value),
        numbers.map(({ after }) => after.raw ?? null),
      ],
    )
  }
  if (texts.length > 0) {
    await client.query(
      `insert into text_reading (signal_id, at, received_at, quality, value)
       select signal_id, to_timestamp(at / 1000), to_timestamp(received_at / 1000), quality, value
       from unnest($1::int[], $2::float8[], $3::float8[], $4::smallint[], $5::text[])
         as given (signal_id, at, received_at, quality, value)
       on conflict (signal_id, at) do update set value = excluded.value, quality = excluded.quality`,
      [...stamps(texts), texts.map(({ after }) => after.value)],
    )
  }
  if (positions.length > 0) {
    await client.query(
      `insert into position_reading (signal_id, at, received_at, quality, lat, lon, height)
       select signal_id, to_timestamp(at / 1000), to_timestamp(received_at / 1000), quality, lat, lon, height
       from unnest($1::int[], $2::float8[], $3::float8[], $4::smallint[], $5::float8[], $6::float8[], $7::float8[])
         as given (signal_id, at, received_at, quality, lat, lon, height)
       on conflict (signal_id, at) do update
         set lat = excluded.lat, lon = excluded.lon, height = excluded.height, quality = excluded.quality`,
      [
        ...stamps(positions),
        positions.map(({ after }) => after.value.lat),
        positions.map(({ after }) => after.value.lon),
        positions.map(({ after }) => after.value.height ?? null),
      ],
    )
  }
  await client.query(markStatement(1), markValues(kind, [...changes].sort(bySignalAndTime)))
}

const tableOf = (value: SignalValue) =>
  readingTables[typeof value === 'number' ? 0 : typeof value === 'string' ? 1 : 2]

async function remove(client: pg.ClientBase, gone: readonly RereadChange[]): Promise<void> {
  for (const table of readingTables) {
    const here = gone.filter(({ before }) => before && tableOf(before.value) === table)
    if (here.length === 0) continue
    await client.query(
      `delete from ${table} using unnest($1::int[], $2::float8[]) as given (signal_id, at)
       where ${table}.signal_id = given.signal_id and ${table}.at = to_timestamp(given.at / 1000)`,
      [here.map(({ signal }) => signal), here.map(({ at }) => at)],
    )
  }
}

const stamps = (set: readonly Set<SignalValue>[]): unknown[] => [
  set.map(({ signal }) => signal),
  set.map(({ at }) => at),
  set.map(({ receivedAt }) => receivedAt),
  set.map(({ after }) => after.quality),
]
