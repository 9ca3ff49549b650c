import { type FoundInput, type NumberReading, neededBefore } from '@jaunty-sparrow/core/derived'
import { Quality } from '@jaunty-sparrow/core/signal'
import type pg from 'pg'

/** So many readings are read at a time, divided among all that are asked for, and so many of each at least. */
const perPiece = { all: 200_000, each: 200 }

const isVoid = Quality.atFault | Quality.markedBad
const instant = (column: string): string => `to_timestamp(asked.${column} / 1000)`
const columns = 'at, received_at, value, quality'
// Where nothing is looked back over, or nothing before matters, the rest of the statement is not even begun.
const looksBack = 'asked.after < asked.begin - 1'
const lastBefore = (which: string): string => `
  (select ${columns} from reading where signal_id = asked.signal and asked.oldest <= asked.after
     and at <= ${instant('after')} and at >= ${instant('oldest')} ${which} order by at desc limit 1)`

/** What of a signal is asked for, epoch ms. */
export interface Asked {
  readonly signal: number
  /** All after this one up to `from`, and the last before it that is not older than `oldest`. */
  readonly after: number
  readonly oldest: number
  /** From here to there as many as a piece holds; both ends included. */
  readonly from: number
  readonly to: number
}

/** What of an input is needed to derive a span. */
export const askedOf = (input: FoundInput, from: number, to: number): Asked => ({
  signal: input.signal,
  ...neededBefore(input, from),
  from,
  to,
})

/** Readings of the span itself alone. */
export const askedInside = (signal: number, from: number, to: number): Asked => ({
  signal,
  after: from - 1,
  oldest: from,
  from,
  to,
})

interface Row {
  readonly place: number
  /** One reading after the other: at, received at, value, quality, each of eight bytes. */
  readonly told: Buffer
}

const bytesPerReading = 32

/** What was read of each that was asked for, in order, and how many readings of the span itself were read at most. */
export interface NeededReadings {
  readonly read: readonly (readonly NumberReading[])[]
  readonly most: number
}

/** Reads what is asked for. */
export async function neededReadings(
  client: Pick<pg.ClientBase, 'query'>,
  asked: readonly Asked[],
): Promise<NeededReadings> {
  const most = Math.max(perPiece.each, Math.floor(perPiece.all / asked.length))
  // Many readings are told in few rows: telling each by itself would cost more than all that is done with them.
  const { rows } = await client.query<Row>({
    name: 'read-for-derived',
    text: `
      select place::int, string_agg(
          float8send(date_part('epoch', at) * 1000) || float8send(date_part('epoch', received_at) * 1000)
            || float8send(value) || float8send(quality), '' order by at) as told
      from unnest($1::int[], $2::float8[], $3::float8[], $4::float8[], $5::float8[])
          with ordinality as asked (signal, after, oldest, begin, until, place)
        cross join lateral (
          ${lastBefore('')} union ${lastBefore(`and ${looksBack} and quality & ${isVoid} = 0`)}
          union all (select ${columns} from reading where signal_id = asked.signal and ${looksBack}
            and at > ${instant('after')} and at < ${instant('begin')})
          union all (select ${columns} from reading where signal_id = asked.signal
            and at >= ${instant('begin')} and at <= ${instant('until')} order by at limit $6)
        ) found
      group by place`,
    values: [
      asked.map(({ signal }) => signal),
      asked.map(({ after }) => after),
      asked.map(({ oldest }) => oldest),
      asked.map(({ from }) => from),
      asked.map(({ to }) => to),
      most,
    ],
  })
  const read: (readonly NumberReading[])[] = asked.map(() => [])
  for (const { place, told } of rows) read[place - 1] = readingsOf(told)
  return { read, most }
}

function readingsOf(told: Buffer): NumberReading[] {
  const readings: NumberReading[] = []
  for (let at = 0; at < told.length; at += bytesPerReading)
    readings.push({
      // A float may miss the millisecond by its last digit.
      at: Math.round(told.readDoubleBE(at)),
      receivedAt: Math.round(told.readDoubleBE(at + 8)),
      value: told.readDoubleBE(at + 16),
      quality: told.readDoubleBE(at + 24),
    })
  return readings
}
