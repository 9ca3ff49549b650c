import {
  levels,
  type PackedReading,
  pageOf,
  readSlots,
  type Slot,
  writePlaces,
  writeReadings,
  writeSlots,
} from '@jaunty-sparrow/core/rollup'
import type pg from 'pg'
import { type Axis, axesOf, partOf } from './axis.ts'
import { pageSeconds } from './duePages.ts'
import type { Due } from './dueReadings.ts'

/** The level of a page that holds readings themselves; an hour of them as the finest buckets have it. */
export const packed = 0

type Slots = Map<number, Slot>

interface PageKey {
  readonly signal: number
  readonly axis: Axis
  readonly level: number
  readonly page: number
}

/** The pages of all levels that a piece touches. */
export class RollupPages {
  readonly #pages = new Map<string, { readonly key: PageKey; readonly slots: Slots }>()
  readonly #packed: { signal: number; page: number; readings: readonly PackedReading[] }[] = []

  /** Reads the coarser pages as they are. */
  async load(client: pg.ClientBase, due: readonly Due[]): Promise<void> {
    const kinds = new Map(due.map(({ signal_id, kind }) => [signal_id, kind]))
    for (const { signal_id: signal, page, kind } of due)
      for (const level of levels)
        for (const axis of axesOf(kind))
          this.put({ signal, axis, level, page: pageOf(level, page * pageSeconds * 1000) }, new Map())
    const all = Array.from(this.#pages.values(), ({ key }) => key)
    const { rows } = await client.query<{ signal_id: number; level: number; page: number; body: Buffer }>(
      `select rollup_page.* from rollup_page
         join (select distinct * from unnest($1::int[], $2::int[], $3::int[]) as each (signal_id, level, page)) as wanted
         using (signal_id, level, page)`,
      [all.map(({ signal }) => signal), all.map(({ level }) => level), all.map(({ page }) => page)],
    )
    for (const { signal_id: signal, level, page, body } of rows)
      for (const axis of axesOf(kinds.get(signal) ?? 'number'))
        this.put({ signal, axis, level, page }, readSlots(partOf(body, axis), level))
  }

  get(key: PageKey): Slots {
    const found = this.#pages.get(keyText(key))
    if (!found) throw new Error(`page ${key.page} of level ${key.level} was not loaded`)
    return found.slots
  }

  put(key: PageKey, slots: Slots): void {
    this.#pages.set(keyText(key), { key, slots })
  }

  pack(signal: number, page: number, readings: readonly PackedReading[]): void {
    this.#packed.push({ signal, page, readings })
  }

  async save(client: pg.ClientBase): Promise<void> {
    const all = [
      ...this.#packed.map(({ signal, page, readings }) => ({
        signal,
        level: packed,
        page,
        body: readings.length === 0 ? undefined : writeReadings(readings),
      })),
      ...[...this.#pages.values()].flatMap(({ key, slots }) =>
        // Latitudes and longitudes go together.
        key.axis === 'lon' ? [] : { ...key, body: slots.size === 0 ? undefined : this.#bodyOf(key, slots) },
      ),
    ]
    const filled = all.flatMap(({ body, ...page }) => (body ? { ...page, body } : []))
    const empty = all.filter(({ body }) => body === undefined)
    await client.query(
      `insert into rollup_page (signal_id, level, page, body)
       select * from unnest($1::int[], $2::int[], $3::int[], $4::bytea[])
       on conflict (signal_id, level, page) do update set body = excluded.body`,
      [
        filled.map(({ signal }) => signal),
        filled.map(({ level }) => level),
        filled.map(({ page }) => page),
        filled.map(({ body }) => Buffer.from(body)),
      ],
    )
    if (empty.length > 0)
      await client.query(
        `delete from rollup_page using unnest($1::int[], $2::int[], $3::int[]) as gone (signal_id, level, page)
         where (rollup_page.signal_id, rollup_page.level, rollup_page.page) = (gone.signal_id, gone.level, gone.page)`,
        [empty.map(({ signal }) => signal), empty.map(({ level }) => level), empty.map(({ page }) => page)],
      )
  }

  #bodyOf(key: PageKey, slots: Slots): Uint8Array {
    const { axis, level } = key
    const written = writeSlots(slots, level)
    return axis === 'lat'
      ? writePlaces(written, writeSlots(this.get({ ...key, axis: 'lon' }), level))
      : written
  }
}

const keyText = ({ signal, axis, level, page }: PageKey): string => `${signal} ${axis} ${level} ${page}`
