import {
  derive,
  derivedChanges,
  type FoundDerivation,
  mergeSpans,
  type NumberReading,
  type TimeSpan,
} from '@jaunty-sparrow/core/derived'
import type { RereadChange } from '@jaunty-sparrow/core/rereading'
import type { Reading } from '@jaunty-sparrow/core/signal'
import groupBy from 'lodash-es/groupBy.js'
import type pg from 'pg'
import { ChangeKind } from '../readings/changeMarks.ts'
import type { ReadingChanges } from '../readings/readingChanges.ts'
import { inTransaction } from '../store/inTransaction.ts'
import { calibrationsOf, corrected } from './correctedReadings.ts'
import { type Asked, askedInside, askedOf, neededReadings } from './neededReadings.ts'

/** So many spans are taken at a time. */
const spansPerPiece = 1000

/** Only one server works it out at a time: two would overwrite each other's with what they read before. */
const builderLock = 7_600_010

/** So long, s, a server may do nothing in the midst of it. */
const patience = 10

interface DerivedBuilderParts {
  readonly pool: pg.Pool
  readonly changes: Pick<ReadingChanges, 'correct'>
  /** Told of what followed from what came in, and of what became the newest, after it was committed. */
  readonly told: (readings: readonly Reading[]) => void
  /** Told when other readings than the newest may be otherwise. */
  readonly pastChanged: () => Promise<void>
}

interface DueRow {
  readonly id: string
  readonly signal_id: number
  readonly from_at: number
  readonly to_at: number
  readonly is_past: boolean
}

/** A span of one derived signal that is due, and what it is worked out from. */
interface Due extends TimeSpan {
  readonly signal: number
  readonly isPast: boolean
  readonly found: FoundDerivation
}

/** What came of a piece. */
interface Worked {
  readonly past: readonly RereadChange[]
  readonly live: readonly RereadChange[]
  readonly isMore: boolean
}

const nothing: Worked = { past: [], live: [], isMore: false }

/** Works out derived signals where they are due: each instant that is touched comes to what a slow computation over all rows would. */
export class DerivedBuilder {
  readonly #parts: DerivedBuilderParts
  #isClosed = false

  constructor(parts: DerivedBuilderParts) {
    this.#parts = parts
  }

  /** Works out what is due, piece by piece; done again it changes nothing. */
  async run(): Promise<void> {
    let isPastChanged = false
    try {
      let isMore = true
      while (isMore && !this.#isClosed) {
        const worked = await this.#piece()
        this.#tell([...newestOfEach(worked.past), ...worked.live])
        isPastChanged ||= worked.past.length > 0 || worked.live.some(({ after }) => after === null)
        isMore = worked.isMore
      }
    } finally {
      if (isPastChanged) await this.#parts.pastChanged()
    }
  }

  /** Ends with the piece it is at. */
  close(): void {
    this.#isClosed = true
  }

  #tell(changes: readonly RereadChange[]): void {
    const readings = changes.flatMap(({ signal, at, receivedAt, after }) =>
      after ? [{ signal, at, receivedAt, value: after.value, quality: after.quality }] : [],
    )
    if (readings.length > 0) this.#parts.told(readings)
  }

  #piece(): Promise<Worked> {
    return inTransaction(this.#parts.pool, async (client) => {
      // Whoever is stopped in the midst of it does not stop the others.
      await client.query(`set local idle_in_transaction_session_timeout = '${patience}s'`)
      const lock = await client.query<{ free: boolean }>('select pg_try_advisory_xact_lock($1) as free', [
        builderLock,
      ])
      if (!lock.rows[0]?.free) return nothing
      const { rows } = await client.query<DueRow>({
        name: 'take-due-derived',
        text: `delete from due_derived where id in (
                 select id from due_derived where not_before <= now() order by is_past, id limit ${spansPerPiece})
               returning id, signal_id, from_at, to_at, is_past`,
      })
      if (rows.length === 0) return nothing
      const due = await withDerivations(client, rows)
      const { past, live, isCut } = await workOut(client, due)
      await this.#parts.changes.correct(client, past)
      await this.#parts.changes.correct(client, live, ChangeKind.added)
      return { past, live, isMore: isCut || rows.length === spansPerPiece }
    })
  }
}

/** Of what lies in the past, pages that look on are told what became the newest. */
const newestOfEach = (changes: readonly RereadChange[]): RereadChange[] => {
  const bySignal = new Map<number, RereadChange>()
  for (const change of changes)
    if (change.after && change.at >= (bySignal.get(change.signal)?.at ?? -Infinity))
      bySignal.set(change.signal, change)
  return [...bySignal.values()]
}

async function withDerivations(client: pg.ClientBase, rows: readonly DueRow[]): Promise<Due[]> {
  const { rows: known } = await client.query<{ signal_id: number; found: FoundDerivation }>({
    name: 'read-derivations',
    text: 'select signal_id, found from derived where signal_id = any($1::int[])',
    values: [[...new Set(rows.map(({ signal_id }) => signal_id))]],
  })
  const bySignal = new Map(known.map(({ signal_id, found }) => [signal_id, found]))
  return Object.values(groupBy(rows, ({ signal_id, is_past }) => `${signal_id} ${is_past}`)).flatMap(
    (same) => {
      const [first] = same
      const found = first && bySignal.get(first.signal_id)
      // It follows from nothing any more: what it was stays.
      if (!found) return []
      const spans = mergeSpans(same.map(({ from_at: from, to_at: to }) => ({ from, to })))
      return spans.map((span) => ({ ...span, signal: first.signal_id, isPast: first.is_past, found }))
    },
  )
}

async function workOut(client: pg.ClientBase, due: readonly Due[]) {
  const asked = due.flatMap(({ signal, from, to, found }): Asked[] => [
    ...found.inputs.map((input) => askedOf(input, from, to)),
    askedInside(signal, from, to),
  ])
  const { read, most } = await neededReadings(client, asked)
  const calibrations = await calibrationsOf(
    client,
    asked.map(({ signal }) => signal),
  )
  const past: RereadChange[] = []
  const live: RereadChange[] = []
  const rest: Due[] = []
  let place = 0
  for (const each of due) {
    const rows = read.slice(place, place + each.found.inputs.length + 1)
    place += rows.length
    const until = Math.min(each.to, ...rows.map((of) => toldUntil(of, each, most)))
    const stored = (rows.at(-1) ?? []).filter(({ at }) => at <= until)
    const inputs = rows
      .slice(0, -1)
      .map((of, index) => corrected(of, calibrations.get(each.found.inputs[index]?.signal ?? -1)))
    const changes = derivedChanges(each.signal, derive(each.found, inputs, each.from, until), stored)
    for (const change of changes) (each.isPast ? past : live).push(change)
    if (until < each.to) rest.push({ ...each, from: until + 1 })
  }
  await client.query(
    `insert into due_derived (signal_id, from_at, to_at, is_past)
     select * from unnest($1::int[], $2::float8[], $3::float8[], $4::boolean[])`,
    [
      rest.map(({ signal }) => signal),
      rest.map(({ from }) => from),
      rest.map(({ to }) => to),
      rest.map(({ isPast }) => isPast),
    ],
  )
  return { past, live, isCut: rest.length > 0 }
}

/** Up to where all readings of a span are told: where there are more than a piece holds, to the last one of it. */
function toldUntil(rows: readonly NumberReading[], { from, to }: TimeSpan, most: number): number {
  const begin = rows.findIndex(({ at }) => at >= from)
  return begin >= 0 && rows.length - begin >= most ? (rows.at(-1)?.at ?? to) : to
}
