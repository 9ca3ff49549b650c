import type pg from 'pg'
import { ChangeKind, markStatement, markValues } from './changeMarks.ts'
import { readingTables } from './readingTables.ts'

/** Rows that are moved or removed at a time: it takes well below a second, and a write waits no longer for it. */
const rowsPerPiece = 20_000

const columns: Readonly<Record<(typeof readingTables)[number], string>> = {
  reading: 'quality, at, received_at, value, raw',
  text_reading: 'quality, at, received_at, value',
  position_reading: 'quality, at, received_at, lat, lon, height',
}

/** What was touched, and in which hours, in order. */
interface Touched {
  readonly rows: number
  readonly hours: readonly Date[] | null
}

const touchedOfGone = `count(*)::int as rows, array_agg(distinct date_bin('1 hour', at, 'epoch')) as hours from gone`

/**
 * Moves the oldest readings of one signal to another, as many as a piece holds; where the other has one at that instant
 * already, its own stays.
 * @returns how many there were; none when it is done
 */
export async function movePiece(client: pg.ClientBase, from: number, to: number): Promise<number> {
  let moved = 0
  for (const table of readingTables) {
    const touched = await one(
      client,
      `with gone as (
         delete from ${table} where signal_id = $1 and at in (
           select at from ${table} where signal_id = $1 order by at limit ${rowsPerPiece - moved})
         returning ${columns[table]}
       ), put as (
         insert into ${table} (signal_id, ${columns[table]}) select $2, ${columns[table]} from gone on conflict do nothing
       ) select ${touchedOfGone}`,
      [from, to],
    )
    await mark(client, ChangeKind.changed, [from, to], touched)
    moved += touched.rows
    if (moved >= rowsPerPiece) break
  }
  return moved
}

/** Removes the oldest readings of a signal, as many as a piece holds. @returns how many there were; none when it is done */
export async function removePiece(client: pg.ClientBase, signal: number): Promise<number> {
  let removed = 0
  for (const table of readingTables) {
    const touched = await one(
      client,
      `with gone as (
         delete from ${table} where signal_id = $1 and at in (
           select at from ${table} where signal_id = $1 order by at limit ${rowsPerPiece - removed})
         returning at
       ) select ${touchedOfGone}`,
      [signal],
    )
    await mark(client, ChangeKind.signalsRemoved, [signal], touched)
    removed += touched.rows
    if (removed >= rowsPerPiece) break
  }
  return removed
}

async function one(client: pg.ClientBase, text: string, values: unknown[]): Promise<Touched> {
  const { rows } = await client.query<Touched>(text, values)
  return rows[0] ?? { rows: 0, hours: null }
}

async function mark(
  client: pg.ClientBase,
  kind: ChangeKind,
  signals: readonly number[],
  { hours }: Touched,
): Promise<void> {
  if (!hours) return
  const touched = signals.flatMap((signal) => hours.map((hour) => ({ signal, at: hour.getTime() })))
  await client.query(markStatement(1), markValues(kind, touched))
}
