import { routes } from '@jaunty-sparrow/contract'
import { decimate, unitSymbol, units } from '@jaunty-sparrow/core'
import { eq } from 'drizzle-orm'
import { ProblemError } from '../doors/problemResponse.ts'
import { remapField } from '../ingest/remapField.ts'
import { signalDefinition } from '../store/schema.ts'
import type { DeviceParts } from './devices.ts'

/** A trace is drawn from single readings so far, so it may not reach over more than a day. */
const longestSpan = 86_400_000

type SignalParts = Pick<DeviceParts, 'binder' | 'database' | 'registry' | 'store' | 'hub'>

export function bindSignals({ binder, database, registry, store, hub }: SignalParts): void {
  binder.bind(routes.changeSignalDefinition, async ({ params, body }) => {
    if (body.unit && !units.some(({ code }) => code === body.unit)) {
      throw new ProblemError(
        'invalid',
        `"${body.unit}" is not among the units that can be picked; ${unitSymbol('Cel')} for example is written Cel.`,
      )
    }
    const { field, ...change } = body
    const kitId = await database.transaction(async (tx) => {
      if (field !== undefined) await remapField(tx, params.definitionId, field)
      const chosen = eq(signalDefinition.id, params.definitionId)
      if (Object.keys(change).length > 0) await tx.update(signalDefinition).set(change).where(chosen)
      const [row] = await tx.select({ kitId: signalDefinition.kitId }).from(signalDefinition).where(chosen)
      if (!row) throw new ProblemError('not-found', 'There is no such signal.')
      return row.kitId
    })
    await registry.load(kitId)
    if (field !== undefined) hub.load(await store.latest())
    hub.devicesChanged()
  })

  binder.bind(routes.getTraces, async ({ query }) => {
    const { from, to, columns } = query
    if (to <= from || to - from > longestSpan) {
      throw new ProblemError(
        'invalid',
        'A trace reaches over at most one day: "to" must be after "from", by no more than 86400000 ms.',
      )
    }
    const signals = query.signals.split(',').map(Number)
    const traces = await store.between(signals, from, to)
    return [...traces].map(([signal, points]) => ({
      signal,
      points: decimate(points, from, to, columns).map(([at, value]): [number, number] => [at, value]),
    }))
  })
}
