import { unknownFields } from '@jaunty-sparrow/core/interpret'
import type { FieldRecord } from '@jaunty-sparrow/core/message'
import groupBy from 'lodash-es/groupBy.js'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import type { RegisteredDevice } from '../devices/registeredDevice.ts'
import type { Listener } from './listener.ts'
import type { OwnedRecords } from './ownedRecords.ts'

interface SuggestingParts {
  readonly registry: DeviceRegistry
  readonly listener: Listener
}

/** Suggests signals for what a message speaks of and nobody has described. @returns whether there are more signals now */
export async function suggest(parts: SuggestingParts, { records, owners }: OwnedRecords): Promise<boolean> {
  // Nearly always a message is of one device.
  const [only, another] = new Set(owners)
  if (!another) return only !== undefined && suggestFor(parts, only, records)
  let more = false
  const byOwner = groupBy([...records.keys()], (index) => owners[index]?.id ?? '')
  for (const indexes of Object.values(byOwner)) {
    const owner = owners[indexes[0] ?? 0]
    const own = indexes.flatMap((index) => records[index] ?? [])
    if (owner && (await suggestFor(parts, owner, own))) more = true
  }
  return more
}

async function suggestFor(
  { registry, listener }: SuggestingParts,
  owner: RegisteredDevice,
  records: readonly FieldRecord[],
): Promise<boolean> {
  const unknown = unknownFields(records, owner.signals)
  if (unknown.length === 0) return false
  const known = await registry.suggest(owner, unknown)
  const more = known.signals !== owner.signals
  if (more) listener.deviceChanged(owner.address)
  return more
}
