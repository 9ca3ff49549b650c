import type { Claim } from '@jaunty-sparrow/core/claim'
import { allowanceOf } from '@jaunty-sparrow/core/device'
import {
  type Cadence,
  type DeviceSignal,
  hasParts,
  type SignalDefinition,
  SignalMap,
  usualSettings,
} from '@jaunty-sparrow/core/signal'
import { asc, eq, inArray, or } from 'drizzle-orm'
import groupBy from 'lodash-es/groupBy.js'
import uniq from 'lodash-es/uniq.js'
import type { Database } from '../store/database.ts'
import { claim, device, kit, signal, signalDefinition } from '../store/schema.ts'
import type { RegisteredDevice } from './registeredDevice.ts'

/** A device as it is written down. */
export type WrittenDevice = Omit<RegisteredDevice, 'arrivals'>

/** Reads devices with their signals: all of them, or those of one kit. */
export async function readDevices(database: Database, kitId?: number): Promise<WrittenDevice[]> {
  const rows = await database
    .select({ device, cadence: kit.cadence, ofKit: kit.constants })
    .from(device)
    .innerJoin(kit, eq(kit.id, device.kitId))
    .where(kitId === undefined ? undefined : eq(device.kitId, kitId))
  const owned = await database
    .select({ signal })
    .from(signal)
    .innerJoin(device, eq(device.id, signal.deviceId))
    .where(kitId === undefined ? undefined : eq(device.kitId, kitId))
    .orderBy(asc(signal.definitionId), asc(signal.id))
  // A device that was given another kit has signals of the one before.
  const further = kitId === undefined ? [] : uniq(owned.map((row) => row.signal.definitionId))
  const described = await database
    .select()
    .from(signalDefinition)
    .where(
      kitId === undefined
        ? undefined
        : or(eq(signalDefinition.kitId, kitId), inArray(signalDefinition.id, further)),
    )
  const kitOf = new Map(described.map((row) => [row.id, row.kitId]))
  const claims = await readClaims(database)
  const definitions = new Map(described.map((row) => [row.id, definitionOf(row)]))
  const ofParts = groupBy(
    described.filter(
      ({ field, state, origin }) => hasParts(field) && state === 'accepted' && origin !== 'derived',
    ),
    (row) => row.kitId,
  )
  const byDevice = groupBy(owned, (row) => row.signal.deviceId)
  return rows.map(({ device: row, cadence, ofKit }) => {
    const signals = (byDevice[row.id] ?? []).flatMap(({ signal: { id, definitionId, part, own, doubt } }) => {
      const defined = definitions.get(definitionId)
      const known: DeviceSignal | undefined = defined && {
        signal: id,
        part,
        definition: { ...defined, ...own },
        own: Object.keys(own) as (keyof typeof own)[],
        ...(doubt && { doubt }),
        ...(kitOf.get(definitionId) !== row.kitId && { isFormer: true as const }),
      }
      return known ?? []
    })
    const forParts = (ofParts[row.kitId] ?? []).flatMap(({ id }) => definitions.get(id) ?? [])
    const { id, siteId, address, name, secretHash, formerSecretHash, reach } = row
    return {
      id,
      kitId: row.kitId,
      siteId,
      address,
      name,
      secretHash,
      ...(formerSecretHash && { formerSecretHash }),
      statedCadence: cadence,
      allowance: allowanceOf(row, secondsOf(cadence)),
      reach,
      claims: claims.get(id) ?? [],
      isRetired: row.retiredAt !== null,
      signals: new SignalMap(signals, forParts, { ...ofKit, ...row.constants }),
    }
  })
}

async function readClaims(database: Database): Promise<Map<number, Claim[]>> {
  const rows = await database
    .select({ claim, address: device.address })
    .from(claim)
    .leftJoin(device, eq(device.id, claim.deviceId))
    .orderBy(asc(claim.id))
  const claims = new Map<number, Claim[]>()
  for (const { claim: row, address } of rows)
    claims.set(row.keyId, [...(claims.get(row.keyId) ?? []), claimOf(row, address)])
  return claims
}

const claimOf = (row: typeof claim.$inferSelect, device: string | null): Claim =>
  row.by === 'topic'
    ? { by: 'topic', pattern: row.place, device, part: row.part }
    : { by: 'field', pointer: row.place, value: row.value, device }

const definitionOf = ({
  id,
  name,
  field,
  kind,
  origin,
  state,
  choices,
  settings,
}: typeof signalDefinition.$inferSelect): SignalDefinition => ({
  ...usualSettings,
  ...settings,
  id,
  name,
  field,
  kind,
  origin,
  state,
  choices,
})

/** Seconds between messages; null where something speaks when it happens, or nobody said. */
const secondsOf = (cadence: Cadence | null): number | null =>
  cadence === null || cadence.by === 'event' ? null : cadence.seconds
