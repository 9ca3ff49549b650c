import { type Access, mayAt } from '@jaunty-sparrow/core/access'
import type { DeviceRegistry } from './deviceRegistry.ts'

/** Whether somebody may see a kit: a device of theirs is made of it, or no device of anybody's is. */
export function maySeeKit(access: Access, registry: DeviceRegistry, kitId: number): boolean {
  const made = [...registry.all()].filter((device) => device.kitId === kitId)
  return made.length === 0 || made.some(({ siteId }) => mayAt(access, 'viewer', siteId))
}
