import { compileFormula } from '@jaunty-sparrow/core/formula'
import { type Recomputable, type RereadChange, recomputed } from '@jaunty-sparrow/core/rereading'
import type pg from 'pg'
import type { LargeChanges } from '../readings/largeChanges.ts'
import type { ReadingChanges } from '../readings/readingChanges.ts'

/** Rows that are made anew at a time: it takes well below a second, and a write waits no longer for it. */
const rowsPerPiece = 10_000

/** What is made anew, with all that holds when it is begun: what is changed meanwhile changes nothing of it. */
export interface Recompute {
  readonly kind: 'recompute'
  readonly recomputation: number
  readonly signal: number
  /** Epoch ms, both ends included. */
  readonly from: number
  readonly to: number
  readonly conversion: string | null
  readonly constants: Readonly<Record<string, number>>
  readonly judged: Recomputable
}

/** What is put back. */
export interface PutBack {
  readonly kind: 'put back'
  readonly recomputation: number
  readonly signal: number
}

interface Row {
  readonly at: number
  readonly received_at: number
  readonly value: number
  readonly raw: number
  readonly quality: number
}

const columns = `round(extract(epoch from at) * 1000)::float8 as at,
  round(extract(epoch from received_at) * 1000)::float8 as received_at, value, raw, quality`

/** Says how values are made anew, and put back, piece by piece. */
export function carryOutRecomputing(large: LargeChanges, changes: Pick<ReadingChanges, 'correct'>): void {
  large.carryOut<Recompute, { after: number }>('recompute', async (client, what, progress) => {
    const formula = compileFormula(what.conversion ?? 'x')
    if ('problem' in formula) throw new Error(`a formula that was taken cannot be read: ${formula.problem}`)
    const { rows } = await client.query<Row>(
      `select ${columns} from reading
       where signal_id = $1 and at > to_timestamp($2::float8 / 1000) and at <= to_timestamp($3::float8 / 1000)
         and raw is not null
       order by reading.at limit ${rowsPerPiece}`,
      [what.signal, progress?.after ?? what.from - 1, what.to],
    )
    const changed = rows.flatMap((row): RereadChange[] => {
      const { at, received_at: receivedAt, ...before } = row
      const after = recomputed(before, formula, what.constants, what.judged)
      return after ? [{ signal: what.signal, at, receivedAt, before, after }] : []
    })
    await keep(client, what.recomputation, changed)
    await changes.correct(client, changed)
    const last = rows.at(-1)
    if (last && rows.length === rowsPerPiece) return { after: last.at }
    await client.query('update recomputation set done_at = now() where id = $1', [what.recomputation])
    return null
  })
  large.carryOut<PutBack, { piece: number }>('put back', async (client, what, progress) => {
    const { rows } = await client.query<{ id: number; at: number[]; value: number[]; quality: number[] }>(
      `select id, at, value, quality from recomputation_piece where recomputation_id = $1 and id > $2 order by id limit 1`,
      [what.recomputation, progress?.piece ?? 0],
    )
    const [piece] = rows
    if (!piece) {
      await client.query('delete from recomputation_piece where recomputation_id = $1', [what.recomputation])
      await client.query('update recomputation set done_at = now() where id = $1', [what.recomputation])
      return null
    }
    const then = new Map(
      piece.at.map((at, place) => [at, { value: piece.value[place], quality: piece.quality[place] }]),
    )
    const { rows: now } = await client.query<Row>(
      `select ${columns} from reading
       where signal_id = $1 and at = any(select to_timestamp(unnest($2::float8[]) / 1000))`,
      [what.signal, piece.at],
    )
    const back = now.flatMap(({ at, received_at: receivedAt, ...before }): RereadChange[] => {
      const { value, quality } = then.get(at) ?? {}
      return value === undefined || quality === undefined
        ? []
        : [{ signal: what.signal, at, receivedAt, before, after: { value, raw: before.raw, quality } }]
    })
    await changes.correct(client, back)
    return { piece: piece.id }
  })
}

/** Keeps what readings were, to the digit. */
async function keep(
  client: pg.ClientBase,
  recomputation: number,
  changed: readonly RereadChange[],
): Promise<void> {
  if (changed.length === 0) return
  await client.query(
    `insert into recomputation_piece (recomputation_id, at, value, quality) values ($1, $2, $3, $4)`,
    [
      recomputation,
      changed.map(({ at }) => at),
      changed.map(({ before }) => before?.value),
      changed.map(({ before }) => before?.quality),
    ],
  )
  await client.query('update recomputation set changed = changed + $2 where id = $1', [
    recomputation,
    changed.length,
  ])
}
