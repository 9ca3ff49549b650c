import {
  type Device,
  type DevicePresence,
  type LatestReading,
  routes,
  type SerialLine,
  type Signal,
} from '@jaunty-sparrow/contract'
import { topicFilterProblem } from '@jaunty-sparrow/core/claim'
import { fieldOfPart, type Reading } from '@jaunty-sparrow/core/signal'
import { asc, eq, sql } from 'drizzle-orm'
import type { EventStore } from '../events/eventStore.ts'
import type { Binder } from '../http/binder.ts'
import { ProblemError } from '../http/problemResponse.ts'
import type { MessageStore } from '../messages/messageStore.ts'
import type { RefusalRecorder } from '../messages/recorder.ts'
import { hashToken, newToken } from '../people/token.ts'
import type { ReadingChanges } from '../readings/readingChanges.ts'
import type { ReadingStore } from '../readings/readingStore.ts'
import type { Database } from '../store/database.ts'
import { breaksReference, isTaken } from '../store/databaseError.ts'
import { device, kit, signal } from '../store/schema.ts'
import type { DeviceRegistry } from './deviceRegistry.ts'
import type { Drops } from './drops.ts'
import { makeSignals } from './makeSignals.ts'
import type { RegisteredDevice } from './registeredDevice.ts'

/** What pages are told of devices. */
interface LiveDevices {
  deviceChanged(address: string): void
  kitChanged(kitId: number): void
  devicesChanged(): void
}

/** What is known of readings without asking the store. */
interface Latest {
  of(signal: number): Reading | undefined
  forget(signals: Iterable<number>): void
}

/** How devices do. */
interface Presences {
  of(device: RegisteredDevice): DevicePresence
}

/** The lines that devices are wired to. */
interface SerialLines {
  lineOf(device: number): SerialLine | null
  remove(device: number): Promise<void>
}

export interface DeviceParts {
  readonly binder: Binder
  readonly database: Database
  readonly registry: DeviceRegistry
  readonly commit: { settled(): Promise<void> }
  readonly store: ReadingStore
  readonly changes: ReadingChanges
  readonly latest: Latest
  readonly presences: Presences
  readonly events: EventStore
  readonly now: () => number
  readonly messages: MessageStore
  readonly hub: LiveDevices
  readonly serial: SerialLines
  readonly takingUp: { ofStranger(device: RegisteredDevice): Promise<unknown> }
  readonly recorder: RefusalRecorder
  readonly drops: Drops
}

export function bindDevices(parts: DeviceParts): void {
  const { binder, database, registry, commit, store, changes, latest, events, now } = parts
  const { messages, hub, takingUp, recorder, serial, drops } = parts
  const happened = (says: string, personId: number, deviceId: number | null) =>
    events.write({ kind: 'device', at: now(), deviceId, personId, says })

  binder.bind(routes.listDevices, () => listDevices(parts))

  binder.bind(routes.getDevice, ({ params }) => oneDevice(parts, params.address))

  binder.bind(routes.createDevice, async ({ body, session }) => {
    const secret = newToken()
    const { kitId: statedKit, takeUnclaimed = false, ...rest } = body
    const kitId = await database
      .transaction(async (tx) => {
        const kitOf = statedKit ?? (await tx.insert(kit).values({}).returning({ id: kit.id }))[0]?.id
        if (kitOf === undefined) throw new Error('the kit was not returned by the insert')
        await tx.insert(device).values({ ...rest, kitId: kitOf, secretHash: hashToken(secret) })
        await makeSignals(tx, kitOf)
        return kitOf
      })
      .catch((error: unknown) => {
        if (isTaken(error)) {
          throw new ProblemError(
            'conflict',
            `The address "${body.address}" belongs to another device; choose another one.`,
          )
        }
        throw missing(error)
      })
    await registry.load(kitId)
    const known = registry.get(body.address)
    if (known && takeUnclaimed) {
      await recorder.flush()
      await takingUp.ofStranger(known)
    }
    hub.deviceChanged(body.address)
    const made = await oneDevice(parts, body.address)
    await happened(`The device "${made.name}" was made.`, session.person.id, made.id)
    return { device: made, secret }
  })

  binder.bind(routes.changeDevice, async ({ params, body, session }) => {
    const problem = body.reach?.map(topicFilterProblem).find((found) => found !== undefined)
    if (problem) throw new ProblemError('invalid', problem)
    const rows = await database
      .update(device)
      .set(body)
      .where(eq(device.address, params.address))
      .returning({ id: device.id, kitId: device.kitId, name: device.name })
      .catch((error: unknown) => {
        throw missing(error)
      })
    const [row] = rows
    if (!row) throw noDevice(params.address)
    await registry.load(row.kitId)
    hub.deviceChanged(params.address)
    await happened(`What is said of the device "${row.name}" was changed.`, session.person.id, row.id)
  })

  binder.bind(routes.replaceSecret, async ({ params, session }) => {
    const secret = newToken()
    const [row] = await database
      .update(device)
      .set({ secretHash: hashToken(secret) })
      .where(eq(device.address, params.address))
      .returning({ id: device.id, kitId: device.kitId })
    if (!row) throw noDevice(params.address)
    await registry.load(row.kitId)
    await happened('It was given a new secret.', session.person.id, row.id)
    return { secret }
  })

  binder.bind(routes.getDeviceLoss, async ({ params }) => {
    const signals = await signalsOf(database, params.address)
    return { signals: signals.length, ...(await store.extent(signals)) }
  })

  binder.bind(routes.deleteDevice, async ({ params, session }) => {
    const signals = await signalsOf(database, params.address)
    const deleted = await database.transaction(async (tx) => {
      const [gone] = await tx
        .delete(device)
        .where(eq(device.address, params.address))
        .returning({ id: device.id, kitId: device.kitId, name: device.name })
      if (gone) await tx.delete(kit).where(sql`${kit.id} = ${gone.kitId} and ${kit.name} is null`)
      return gone
    })
    // First nobody may write any more and what is on its way lands; then it can be swept.
    registry.forget(params.address)
    if (deleted) await serial.remove(deleted.id)
    await commit.settled()
    latest.forget(signals)
    hub.deviceChanged(params.address)
    await changes.remove(signals)
    if (!deleted) return
    drops.forget(deleted.id)
    await messages.deleteOf(deleted.id)
    await happened(`The device "${deleted.name}" was deleted.`, session.person.id, null)
  })
}

async function signalsOf(database: Database, address: string): Promise<number[]> {
  const rows = await database
    .select({ device: device.id, signal: signal.id })
    .from(device)
    .leftJoin(signal, eq(signal.deviceId, device.id))
    .where(eq(device.address, address))
  if (rows.length === 0) throw noDevice(address)
  return rows.flatMap((row) => row.signal ?? [])
}

const noDevice = (address: string): ProblemError =>
  new ProblemError('not-found', `No device has the address "${address}".`)

const missing = (error: unknown): unknown =>
  breaksReference(error)
    ? new ProblemError('not-found', 'The site or kit that was named does not exist.')
    : error

/** @throws ProblemError when there is no such device */
async function oneDevice(parts: DeviceParts, address: string): Promise<Device> {
  const [found] = await listDevices(parts, address)
  if (!found) throw noDevice(address)
  return found
}

/** Devices with their signals, in their order, and the latest readings out of memory: all of them, or one. */
async function listDevices(parts: DeviceParts, address?: string): Promise<Device[]> {
  const { database, registry } = parts
  const devices = await database
    .select({ device, kitName: kit.name })
    .from(device)
    .innerJoin(kit, eq(kit.id, device.kitId))
    .where(address === undefined ? undefined : eq(device.address, address))
    .orderBy(asc(sql`lower(${device.name})`), asc(device.id))
  return devices.flatMap(({ device: row, kitName }) => {
    const known = registry.get(row.address)
    return known ? tellDevice(parts, row, kitName, known) : []
  })
}

function tellDevice(
  { registry, serial, drops, latest, presences }: DeviceParts,
  row: typeof device.$inferSelect,
  kitName: string | null,
  known: RegisteredDevice,
): Device {
  const { heardAt, presence, signals } = presences.of(known)
  const presenceOf = new Map(signals)
  const { messagesPerMinute, readingsPerMinute, messageBytes } = row
  return {
    id: row.id,
    name: row.name,
    address: row.address,
    siteId: row.siteId,
    kit: { id: row.kitId, name: kitName },
    cadence: registry.cadence(known),
    allowance: { ...known.allowance, stated: { messagesPerMinute, readingsPerMinute, messageBytes } },
    reach: row.reach,
    serial: serial.lineOf(row.id),
    dropped: drops.of(row.id),
    heardAt,
    presence,
    createdAt: row.createdAt.getTime(),
    signals: [...known.signals]
      .sort((a, b) => a.definition.order - b.definition.order)
      .map(({ signal: id, part, definition, own }) => {
        const { id: definitionId, field, name, ...rest } = definition
        const reading = latest.of(id)
        return {
          ...(rest as Omit<
            Signal,
            'id' | 'definitionId' | 'part' | 'field' | 'name' | 'own' | 'presence' | 'latest'
          >),
          id,
          definitionId,
          part,
          field: part === '' ? field : fieldOfPart(field, part),
          name,
          own: own as Signal['own'][number][],
          presence: presenceOf.get(id) ?? 'never',
          latest: reading ? tellReading(registry.calibrations.outward(reading)) : null,
        }
      }),
  }
}

const tellReading = ({ at, receivedAt, value, quality }: Reading): LatestReading => ({
  at,
  receivedAt,
  value,
  quality,
})
