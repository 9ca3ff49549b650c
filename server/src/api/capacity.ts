import { routes } from '@jaunty-sparrow/contract'
import { Capacity } from '../store/capacity.ts'
import type { DeviceParts } from './devices.ts'

export function bindCapacity({ binder, database }: Pick<DeviceParts, 'binder' | 'database'>): void {
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
