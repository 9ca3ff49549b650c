import type { RereadChange } from '@jaunty-sparrow/core/rereading'
import { convertedTo, type UnitConversion } from '@jaunty-sparrow/core/units'
import type { LargeChanges } from '../readings/largeChanges.ts'
import type { ReadingChanges } from '../readings/readingChanges.ts'

/** Rows that are told in another unit at a time: it takes well below a second. */
const rowsPerPiece = 10_000

/** Nobody's records are older, epoch ms. */
const beforeAll = Date.UTC(1899, 11, 31)

/** Readings up to an instant that are to be told in another unit. */
export interface ConvertReadings {
  readonly kind: 'convert'
  readonly signal: number
  readonly conversion: UnitConversion
  /** Epoch ms; what came in since is in the other unit already. */
  readonly receivedBefore: number
}

/** Says how readings are told in another unit, piece by piece. */
export function carryOutConverting(large: LargeChanges, changes: Pick<ReadingChanges, 'correct'>): void {
  large.carryOut<ConvertReadings, { after: number }>('convert', async (client, what, progress) => {
    const { rows } = await client.query<{
      at: number
      received_at: number
      value: number
      raw: number | null
      quality: number
    }>(
      `select round(extract(epoch from at) * 1000)::float8 as at,
         round(extract(epoch from received_at) * 1000)::float8 as received_at, value, raw, quality
       from reading
       where signal_id = $1 and reading.at > to_timestamp($2::float8 / 1000) and received_at < to_timestamp($3::float8 / 1000)
       order by reading.at limit ${rowsPerPiece}`,
      [what.signal, progress?.after ?? beforeAll, what.receivedBefore],
    )
    await changes.correct(
      client,
      rows.map(({ at, received_at: receivedAt, value, raw, quality }): RereadChange => {
        const kept = raw === null ? {} : { raw }
        return {
          ...{ signal: what.signal, at, receivedAt },
          before: { value, ...kept, quality },
          after: { value: convertedTo(value, what.conversion), ...kept, quality },
        }
      }),
    )
    const last = rows.at(-1)
    return last && rows.length === rowsPerPiece ? { after: last.at } : null
  })
}
