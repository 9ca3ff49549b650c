import { type Condition, routes } from '@jaunty-sparrow/contract'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import type { Drops } from '../devices/drops.ts'
import type { Binder } from '../http/binder.ts'
import type { ClockTrust } from '../life/clockTrust.ts'
import type { Faults } from '../life/faults.ts'
import type { Storage } from './storage.ts'

export interface ConditionParts {
  readonly binder: Binder
  readonly serverName: string
  readonly startedAt: number
  readonly faults: Faults
  readonly clock: ClockTrust
  readonly drops: Drops
  readonly registry: DeviceRegistry
  readonly storage: Storage
}

/** How the server itself is doing, for its owner. */
export function bindCondition(parts: ConditionParts): void {
  const { binder, serverName, startedAt, faults, clock, drops, registry, storage } = parts
  binder.bind(
    routes.getCondition,
    async (): Promise<Condition> => ({
      server: serverName,
      startedAt,
      faults: { count: faults.count, last: faults.last ?? null },
      clock: clock.doubt,
      storage: await storage.told(),
      dropped: [...registry.all()].flatMap(({ id, address }) => {
        const dropped = drops.of(id)
        return dropped ? [{ address, ...dropped }] : []
      }),
    }),
  )

  binder.bind(routes.confirmClock, async () => clock.confirm())
}
