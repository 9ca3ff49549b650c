import { routes } from '@jaunty-sparrow/contract'
import { guessFaults, type ProposedFault, tellingValues } from '@jaunty-sparrow/core/proposal'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import type { Binder } from '../http/binder.ts'
import { ProblemError } from '../http/problemResponse.ts'
import type { Database } from '../store/database.ts'

/** So many of the last readings are looked at. */
const readingsLookedAt = 20_000

interface FaultProposalParts {
  readonly binder: Binder
  readonly database: Database
  readonly registry: DeviceRegistry
}

/** Proposes which values mean a fault, from what came. */
export function bindFaultProposals({ binder, database, registry }: FaultProposalParts): void {
  binder.bind(routes.proposeFaults, async ({ params: { signalId } }): Promise<ProposedFault[]> => {
    const definition = registry.signal(signalId)?.signal.definition
    if (!definition) throw new ProblemError('not-found', 'There is no such signal.')
    if (definition.kind !== 'number' || definition.origin === 'derived') return []
    // What is converted is sent as counts or volts, and not in the unit.
    const unit = definition.conversion === null ? (definition.unit ?? '') : ''
    const stated = new Set(definition.faults.map(({ value }) => value))
    const telling = tellingValues(unit).filter((value) => !stated.has(value))
    const { rows } = await database.$client.query<{
      usual: [number, number] | null
      sent: { value: number; times: number }[] | null
    }>(
      `with newest as (
         select coalesce(raw, value) as sent from reading where signal_id = $1 order by at desc limit ${readingsLookedAt}
       )
       select
         (select percentile_cont(array[0.05, 0.95]) within group (order by sent) from newest
          where sent <> all($2::float8[])) as usual,
         (select json_agg(json_build_object('value', sent, 'times', times))
          from (select sent, count(*) as times from newest where sent = any($2::float8[]) group by sent) counted) as sent`,
      [signalId, telling],
    )
    const { usual, sent } = rows[0] ?? { usual: null, sent: null }
    return usual && sent ? guessFaults(unit, { low: usual[0], high: usual[1] }, sent) : []
  })
}
