import { routes } from '@jaunty-sparrow/contract'
import { mayAt } from '@jaunty-sparrow/core/access'
import { usualControl } from '@jaunty-sparrow/core/signal'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import { type Binder, demand } from '../http/binder.ts'
import type { Database } from '../store/database.ts'
import { listed } from './commandStore.ts'
import type { Commands } from './commands.ts'

export interface CommandRouteParts {
  readonly binder: Binder
  readonly database: Database
  readonly registry: DeviceRegistry
  readonly commands: Commands
}

/** What people and programs ask of devices, and what came of it. */
export function bindCommands({ binder, database, registry, commands }: CommandRouteParts): void {
  binder.bind(routes.requestCommands, async ({ body: { signals, value, why = '' }, caller }) => {
    const asked = signals.map((id) => {
      const known = registry.signal(id)
      const device = registry.get(known?.address ?? '')
      const role = known?.signal.definition.control?.role ?? usualControl.role
      demand(caller, role, device?.siteId, `There is no signal ${id}.`)
      return { device, signal: known?.signal }
    })
    return Promise.all(
      asked.map(async ({ device, signal }, place) => {
        if (!device || !signal) throw new Error('a signal that was allowed is not there')
        return {
          signalId: signals[place] ?? 0,
          ...(await commands.request({ device, signal }, value, caller, why.trim())),
        }
      }),
    )
  })

  binder.bind(routes.listCommands, async ({ query, caller }) => {
    const seen = [...registry.all()].filter(({ siteId }) => mayAt(caller.access, 'viewer', siteId))
    return listed(
      database,
      query,
      seen.map(({ id }) => id),
    )
  })
}
