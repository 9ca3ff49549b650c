import { setTimeout as rest } from 'node:timers/promises'
import { type Recomputation, routes } from '@jaunty-sparrow/contract'
import { compileFormula, type Formula } from '@jaunty-sparrow/core/formula'
import { recomputed } from '@jaunty-sparrow/core/rereading'
import type { DeviceSignal } from '@jaunty-sparrow/core/signal'
import { and, desc, eq, gt, gte, isNull, lte } from 'drizzle-orm'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import type { EventStore } from '../events/eventStore.ts'
import type { Binder } from '../http/binder.ts'
import { ProblemError } from '../http/problemResponse.ts'
import type { Faults } from '../life/faults.ts'
import type { LargeChanges } from '../readings/largeChanges.ts'
import type { Database } from '../store/database.ts'
import { isTaken } from '../store/databaseError.ts'
import { person, recomputation } from '../store/schema.ts'
import type { PutBack, Recompute } from './recomputing.ts'

export interface RecomputeParts {
  readonly binder: Binder
  readonly database: Database
  readonly registry: DeviceRegistry
  readonly large: LargeChanges
  readonly events: EventStore
  readonly faults: Faults
  /** Reads anew what is the latest of all signals, here and on other servers. */
  readonly reread: () => Promise<void>
  readonly now: () => number
}

/** So long an answer waits for what was begun; the rest goes on by itself, ms. */
const longestWait = 10_000
const mostPoints = 200

type Row = typeof recomputation.$inferSelect

const told = (row: Row, by: string | null): Recomputation => ({
  id: row.id,
  from: row.fromAt.getTime(),
  to: row.toAt.getTime(),
  conversion: row.conversion,
  changed: row.changed,
  isDone: row.doneAt !== null,
  person: by,
  createdAt: row.createdAt.getTime(),
  undoneAt: row.undoneAt?.getTime() ?? null,
})

/** Makes the past of a signal anew of what was sent, shown before and put back after. */
export function bindRecompute(parts: RecomputeParts): void {
  const { binder, database, registry, large, events, faults, reread, now } = parts

  const known = (signalId: number) => {
    const found = registry.signal(signalId)
    const device = found && registry.get(found.address)
    if (!device) throw new ProblemError('not-found', 'There is no such signal.')
    return { device, signal: found.signal, formula: formulaOf(found.signal) }
  }
  type Work<T> = Parameters<typeof database.transaction<T>>[0]
  /** @throws ProblemError while values of the signal are being made anew or put back */
  const oneAtATime = <T>(work: Work<T>): Promise<T> =>
    database.transaction(work).catch((error: unknown) => {
      throw isTaken(error)
        ? new ProblemError(
            'conflict',
            'Values of this signal are being made anew just now; wait until that is done.',
          )
        : error
    })
  /** Carries out what was taken down; who asked waits for a while, and it goes on whoever leaves. */
  const carryOut = async (change: number) => {
    const done = large.run(change).then(reread)
    faults.watch('making values anew', done)
    const waited = new AbortController()
    await Promise.race([
      done.catch(() => undefined),
      rest(longestWait, undefined, { signal: waited.signal }).catch(() => undefined),
    ])
    waited.abort()
  }

  binder.bind(routes.previewRecomputation, async ({ params, query: { from, to } }) => {
    const { device, signal, formula } = known(params.signalId)
    const { rows } = await database.$client.query<{ readings: number }>(
      `select count(*)::int as readings from reading where signal_id = $1 and raw is not null
       and at between to_timestamp($2::float8 / 1000) and to_timestamp($3::float8 / 1000)`,
      [params.signalId, from, to],
    )
    const { rows: sample } = await database.$client.query<{
      at: number
      value: number
      raw: number
      quality: number
    }>(
      `with span as (
         select min(at) as first, max(at) as last from reading where signal_id = $1 and raw is not null
         and at between to_timestamp($2::float8 / 1000) and to_timestamp($3::float8 / 1000)
       )
       select distinct round(extract(epoch from met.at) * 1000)::float8 as at, value, raw, quality
       from span, generate_series(0, ${mostPoints - 1}) as step (n), lateral (
         select at, value, raw, quality from reading
         where signal_id = $1 and raw is not null and reading.at <= last
           and reading.at >= first + (last - first) * n / ${mostPoints - 1}
         order by reading.at limit 1
       ) met order by 1`,
      [params.signalId, from, to],
    )
    return {
      readings: rows[0]?.readings ?? 0,
      points: sample.map(({ at, ...stored }): [number, number, number] => {
        const after = recomputed(stored, formula, device.signals.constants, signal.definition)
        return [at, stored.value, Number(after?.value ?? stored.value)]
      }),
    }
  })

  binder.bind(routes.listRecomputations, async ({ params: { signalId } }) => {
    const rows = await database
      .select({ row: recomputation, by: person.name })
      .from(recomputation)
      .leftJoin(person, eq(person.id, recomputation.personId))
      .where(eq(recomputation.signalId, signalId))
      .orderBy(desc(recomputation.id))
    return rows.map(({ row, by }) => told(row, by))
  })

  binder.bind(routes.createRecomputation, async ({ params: { signalId }, body: { from, to }, caller }) => {
    const { device, signal } = known(signalId)
    if (to <= from) throw new ProblemError('invalid', '"to" must be after "from".')
    const { conversion, faults: meaningFaults, range } = signal.definition
    const { id, change } = await oneAtATime(async (tx) => {
      const [made] = await tx
        .insert(recomputation)
        .values({
          signalId,
          fromAt: new Date(from),
          toAt: new Date(to),
          conversion,
          personId: caller.person.id,
          createdAt: new Date(now()),
        })
        .returning()
      if (!made) throw new Error('the recomputation was not returned by the insert')
      const { constants } = device.signals
      const judged = { faults: meaningFaults, range }
      const what: Recompute = {
        kind: 'recompute',
        recomputation: made.id,
        signal: signalId,
        ...{ from, to, conversion, constants, judged },
      }
      return { id: made.id, change: await large.takeDown(tx, what) }
    })
    await events.write({
      kind: 'signal',
      at: now(),
      caller,
      signalId,
      deviceId: device.id,
      says: `The past of "${signal.definition.name}" was made anew of what was sent.`,
      change: {
        before: {},
        after: { from: new Date(from).toISOString(), to: new Date(to).toISOString(), conversion },
      },
    })
    await carryOut(change)
    const [row] = await database.select().from(recomputation).where(eq(recomputation.id, id))
    if (!row) throw new ProblemError('not-found', 'The signal was deleted meanwhile.')
    return told(row, caller.person.name)
  })

  binder.bind(routes.undoRecomputation, async ({ params: { signalId, recomputationId: id }, caller }) => {
    const { device, signal } = known(signalId)
    const [row] = await database
      .select()
      .from(recomputation)
      .where(and(eq(recomputation.id, id), eq(recomputation.signalId, signalId)))
    if (!row || row.undoneAt)
      throw new ProblemError('not-found', 'There is no such recomputation, or it was undone.')
    if (!row.doneAt) throw new ProblemError('conflict', 'It is not done yet; undo it when it is.')
    const [later] = await database
      .select()
      .from(recomputation)
      .where(
        and(
          eq(recomputation.signalId, signalId),
          gt(recomputation.id, id),
          isNull(recomputation.undoneAt),
          lte(recomputation.fromAt, row.toAt),
          gte(recomputation.toAt, row.fromAt),
        ),
      )
      .limit(1)
    if (later)
      throw new ProblemError(
        'conflict',
        'A later one made values of the same span anew; undo that one first.',
      )
    const change = await oneAtATime(async (tx) => {
      await tx
        .update(recomputation)
        .set({ undoneAt: new Date(now()), doneAt: null })
        .where(eq(recomputation.id, id))
      const what: PutBack = { kind: 'put back', recomputation: id, signal: signalId }
      return large.takeDown(tx, what)
    })
    const says = `What was made anew of "${signal.definition.name}" was put back.`
    await events.write({ kind: 'signal', at: now(), caller, signalId, deviceId: device.id, says })
    await carryOut(change)
  })
}

/** @throws ProblemError where the raw value alone does not tell */
function formulaOf({ definition }: DeviceSignal): Formula {
  const formula = compileFormula(definition.conversion ?? 'x')
  if ('problem' in formula) throw new ProblemError('invalid', formula.problem)
  if (formula.fields.length > 0)
    throw new ProblemError(
      'conflict',
      `The formula takes ${formula.fields.join(' and ')} of the message as well, which is kept for some days only: use "Read again" on the page of the device.`,
    )
  return formula
}
