import { routes } from '@jaunty-sparrow/contract'
import type { Binder } from '../http/binder.ts'
import type { Database } from '../store/database.ts'
import { Capacity } from './capacity.ts'

interface CapacityParts {
  readonly binder: Binder
  readonly database: Database
}

export function bindCapacity({ binder, database }: CapacityParts): void {
  const capacity = new Capacity(database.$client)
  let measuring: Promise<number> | undefined

  binder.bind(routes.getCapacity, async () => ({ bytesPerReading: await capacity.bytesPerReading() }))

  // One measurement at a time: two would measure each other.
  binder.bind(routes.measureCapacity, async () => {
    measuring ??= capacity
      .measure(() => performance.now())
      .finally(() => {
        measuring = undefined
      })
    return { readingsPerSecond: await measuring }
  })
}
