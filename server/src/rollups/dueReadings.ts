import type { Counted, PackedReading } from '@jaunty-sparrow/core/rollup'
import type { SignalKind } from '@jaunty-sparrow/core/signal'
import partition from 'lodash-es/partition.js'
import type pg from 'pg'
import { pageSeconds } from './duePages.ts'

/** An hour of a signal that is not what its readings come to. */
export interface Due {
  readonly signal_id: number
  readonly page: number
  readonly kind: SignalKind
}

/** A place as far as it is rolled up. */
export interface Place extends Omit<Counted, 'value'> {
  readonly lat: number
  readonly lon: number
}

/** The readings of the due pages, by signal and page, in order of time. */
export async function readingsOf(
  client: pg.ClientBase,
  due: readonly Due[],
): Promise<{ numbers: Map<string, PackedReading[]>; places: Map<string, Place[]> }> {
  const read = async <R extends [signal: number, page: number, at: number, ...unknown[]]>(
    table: string,
    columns: string,
    own: readonly Due[],
  ): Promise<R[]> => {
    if (own.length === 0) return []
    const { rows } = await client.query<R>({
      name: `due-pages-of-${table}`,
      text: `select due.signal_id, due.page, date_part('epoch', at) * 1000, ${columns}
        from unnest($1::int[], $2::int[]) as due (signal_id, page)
          join ${table} reading on reading.signal_id = due.signal_id and at >= to_timestamp(due.page * ${pageSeconds}::float8)
            and at < to_timestamp((due.page + 1) * ${pageSeconds}::float8)
        order by due.signal_id, at`,
      values: [own.map(({ signal_id }) => signal_id), own.map(({ page }) => page)],
      rowMode: 'array',
    } as pg.QueryArrayConfig)
    return rows
  }
  const [ofPlaces, ofNumbers] = partition(due, ({ kind }) => kind === 'position')
  const numbers = new Map<string, PackedReading[]>()
  const rows = await read<[number, number, number, number, number, number | null, number]>(
    'reading',
    `date_part('epoch', received_at) * 1000, value, raw, quality`,
    ofNumbers,
  )
  for (const [signal, page, at, received, value, raw, quality] of rows) {
    const reading = { at: Math.round(at), receivedAt: Math.round(received), value, quality }
    push(numbers, `${signal} ${page}`, raw === null ? reading : { ...reading, raw })
  }
  const places = new Map<string, Place[]>()
  const spots = await read<[number, number, number, number, number, number]>(
    'position_reading',
    'lat, lon, quality',
    ofPlaces,
  )
  for (const [signal, page, at, lat, lon, quality] of spots)
    push(places, `${signal} ${page}`, { at: Math.round(at), lat, lon, quality })
  return { numbers, places }
}

function push<T>(lists: Map<string, T[]>, key: string, item: T): void {
  const list = lists.get(key)
  if (list) list.push(item)
  else lists.set(key, [item])
}
