import { lte } from 'drizzle-orm'
import type { Database } from '../store/database.ts'
import { device } from '../store/schema.ts'
import type { DeviceRegistry } from './deviceRegistry.ts'

/** Ends the secrets that were good for a while yet: who came in with one is let go of. */
export async function endFormerSecrets(
  database: Database,
  registry: Pick<DeviceRegistry, 'load'>,
  now: number,
): Promise<void> {
  const ended = await database
    .update(device)
    .set({ formerSecretHash: null, formerSecretUntil: null })
    .where(lte(device.formerSecretUntil, new Date(now)))
    .returning({ kitId: device.kitId })
  for (const kitId of new Set(ended.map((row) => row.kitId))) await registry.load(kitId)
}
