import {
  type Device,
  type DevicePresence,
  type LatestReading,
  routes,
  type SerialLine,
  type Signal,
  type UnitChoices,
} from '@jaunty-sparrow/contract'
import { mayAt } from '@jaunty-sparrow/core/access'
import { topicFilterProblem } from '@jaunty-sparrow/core/claim'
import { fieldOfPart, type Reading } from '@jaunty-sparrow/core/signal'
import { asc, eq, sql } from 'drizzle-orm'
import { linkDerived } from '../derived/linkDerived.ts'
import { changeOf } from '../events/changeOf.ts'
import type { EventStore, NewEvent } from '../events/eventStore.ts'
import { type Binder, demand } from '../http/binder.ts'
import { ProblemError } from '../http/problemResponse.ts'
import type { Caller } from '../http/session.ts'
import type { MessageStore } from '../messages/messageStore.ts'
import type { RefusalRecorder } from '../messages/recorder.ts'
import type { ReadingChanges } from '../readings/readingChanges.ts'
import type { ReadingStore } from '../readings/readingStore.ts'
import { hashToken, newToken } from '../secrets/token.ts'
import type { Database } from '../store/database.ts'
import { breaksReference, isTaken } from '../store/databaseError.ts'
import { device, kit, signal, site } from '../store/schema.ts'
import { shownAs } from '../units/unitChoices.ts'
import { checkConstants } from './checkConstants.ts'
import type { DeviceRegistry } from './deviceRegistry.ts'
import type { Drops } from './drops.ts'
import { makeSignals } from './makeSignals.ts'
import { maySeeKit } from './maySeeKit.ts'
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
  /** Called when who may look at what has changed: a device went to another site. */
  readonly accessChanged: () => void
}

export function bindDevices(parts: DeviceParts): void {
  const { binder, database, registry, commit, store, changes, latest, events, now } = parts
  const { messages, hub, takingUp, recorder, serial, drops, accessChanged } = parts
  const happened = (says: string, caller: Caller, of: Pick<NewEvent, 'deviceId' | 'siteId' | 'change'>) =>
    events.write({ kind: 'device', at: now(), caller, says, ...of })

  binder.bind(routes.listDevices, async ({ caller }) =>
    (await listDevices(parts, caller.units)).filter(({ siteId }) => mayAt(caller.access, 'viewer', siteId)),
  )

  binder.bind(routes.getDevice, ({ params, caller }) => oneDevice(parts, params.address, caller.units))

  binder.bind(routes.createDevice, async ({ body, caller }) => {
    demand(caller, 'owner', body.siteId, noSiteOrKit)
    if (body.kitId !== undefined && !maySeeKit(caller.access, registry, body.kitId))
      throw new ProblemError('not-found', noSiteOrKit)
    const secret = newToken()
    const { kitId: statedKit, takeUnclaimed = false, copyOf, ...rest } = body
    if (copyOf !== undefined && statedKit !== undefined)
      throw new ProblemError('invalid', 'A copy is of the kit of the device it is like.')
    const like = copyOf === undefined ? undefined : registry.get(copyOf)
    if (copyOf !== undefined && !(like && mayAt(caller.access, 'owner', like.siteId))) throw noDevice(copyOf)
    const kitId = await database
      .transaction(async (tx) => {
        const kitOf =
          like?.kitId ?? statedKit ?? (await tx.insert(kit).values({}).returning({ id: kit.id }))[0]?.id
        if (kitOf === undefined) throw new Error('the kit was not returned by the insert')
        const secretHash = hashToken(secret)
        const settings = like ? await settingsOf(tx, like.id) : {}
        const [row] = await tx
          .insert(device)
          .values({ ...settings, ...rest, kitId: kitOf, secretHash })
          .returning({ id: device.id })
        await makeSignals(tx, kitOf)
        if (like && row) {
          await copyOwn(tx, like.id, row.id)
          await nameKit(tx, kitOf, like)
          await linkDerived(tx, [kitOf])
        }
        return kitOf
      })
      .catch((error: unknown) => {
        throw isTaken(error) ? addressTaken(body.address) : missing(error)
      })
    await registry.load(kitId)
    const known = registry.get(body.address)
    if (known && takeUnclaimed) {
      await recorder.flush()
      await takingUp.ofStranger(known)
    }
    hub.deviceChanged(body.address)
    const made = await oneDevice(parts, body.address, caller.units)
    const { name, address, siteId } = made
    await happened(`The device "${name}" was made.`, caller, {
      deviceId: made.id,
      change: { before: {}, after: { name, address, siteId, kit: made.kit.name } },
    })
    return { device: made, secret }
  })

  binder.bind(routes.changeDevice, async ({ params, body, caller }) => {
    if (body.siteId !== undefined) demand(caller, 'owner', body.siteId, noSiteOrKit)
    const { isRetired, ...set } = body
    const retiredAt = isRetired === undefined ? undefined : isRetired ? new Date(now()) : null
    const problem = body.reach?.map(topicFilterProblem).find((found) => found !== undefined)
    if (problem) throw new ProblemError('invalid', problem)
    checkConstants(body.constants)
    const { before, row } = await database
      .transaction(async (tx) => {
        const found = eq(device.address, params.address)
        const [before] = await tx.select().from(device).where(found).for('update')
        const [row] = await tx
          .update(device)
          .set({ ...set, ...(retiredAt !== undefined && { retiredAt }) })
          .where(found)
          .returning()
        if (!before || !row) throw noDevice(params.address)
        if (body.constants || row.siteId !== before.siteId) await linkDerived(tx, [row.kitId])
        return { before, row }
      })
      .catch((error: unknown) => {
        throw isTaken(error) ? addressTaken(body.address ?? '') : missing(error)
      })
    await registry.load(row.kitId)
    if (row.siteId !== before.siteId) accessChanged()
    hub.deviceChanged(params.address)
    if (row.address !== params.address) hub.deviceChanged(row.address)
    await happened(`What is said of the device "${row.name}" was changed.`, caller, {
      deviceId: row.id,
      change: changeOf(before, row, Object.keys(body)),
    })
  })

  binder.bind(routes.replaceSecret, async ({ params, query: { overlap = 0 }, caller }) => {
    const secret = newToken()
    const [row] = await database
      .update(device)
      .set({
        secretHash: hashToken(secret),
        formerSecretHash: overlap > 0 ? sql`${device.secretHash}` : null,
        formerSecretUntil: overlap > 0 ? new Date(now() + overlap * 1000) : null,
      })
      .where(eq(device.address, params.address))
      .returning({ id: device.id, kitId: device.kitId })
    if (!row) throw noDevice(params.address)
    await registry.load(row.kitId)
    const still = overlap > 0 ? ' The old one is good for a while yet.' : ''
    await happened(`It was given a new secret.${still}`, caller, { deviceId: row.id })
    return { secret }
  })

  binder.bind(routes.getDeviceLoss, async ({ params }) => {
    const signals = await signalsOf(database, params.address)
    return { signals: signals.length, ...(await store.extent(signals)) }
  })

  binder.bind(routes.deleteDevice, async ({ params, caller }) => {
    const signals = await signalsOf(database, params.address)
    const deleted = await database.transaction(async (tx) => {
      const [gone] = await tx.delete(device).where(eq(device.address, params.address)).returning()
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
    const { name, address, siteId } = deleted
    await happened(`The device "${name}" was deleted.`, caller, {
      siteId,
      change: { before: { name, address, siteId }, after: {} },
    })
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

const addressTaken = (address: string): ProblemError =>
  new ProblemError('conflict', `The address "${address}" belongs to another device; choose another one.`)

/** What a device has of its own, for one that is to be like it. */
async function settingsOf(tx: Pick<Database, 'select'>, deviceId: number) {
  const [row] = await tx.select().from(device).where(eq(device.id, deviceId))
  if (!row) return {}
  const { messagesPerMinute, readingsPerMinute, messageBytes, reach, constants, partNames } = row
  return { messagesPerMinute, readingsPerMinute, messageBytes, reach, constants, partNames }
}

/** A kit that two devices are made of is seen among the kits: it is called as the one it was of, where it has no name. */
async function nameKit(
  tx: Pick<Database, 'execute'>,
  kitId: number,
  { name, address }: { readonly name: string; readonly address: string },
): Promise<void> {
  await tx.execute(sql`
    update ${kit} set name = case
      when exists (select from ${kit} other where other.name = ${name}) then ${`${name} (${address})`} else ${name} end
    where id = ${kitId} and name is null`)
}

/** Gives the signals of a device what those of another have of their own. */
async function copyOwn(tx: Pick<Database, 'execute'>, from: number, to: number): Promise<void> {
  await tx.execute(sql`
    update ${signal} set own = there.own from ${signal} there
    where ${signal.deviceId} = ${to} and there.device_id = ${from}
      and there.definition_id = ${signal.definitionId} and there.part = ${signal.part}`)
}

const noSiteOrKit = 'The site or kit that was named does not exist.'

const missing = (error: unknown): unknown =>
  breaksReference(error) ? new ProblemError('not-found', noSiteOrKit) : error

/** @throws ProblemError when there is no such device */
export async function oneDevice(parts: DeviceParts, address: string, units: UnitChoices): Promise<Device> {
  const [found] = await listDevices(parts, units, address)
  if (!found) throw noDevice(address)
  return found
}

/**
 * Devices with their signals, in their order, and the latest readings out of memory: all of them, or one.
 * @param units in which whoever asks wants to see them
 */
async function listDevices(parts: DeviceParts, units: UnitChoices, address?: string): Promise<Device[]> {
  const { database, registry } = parts
  const devices = await database
    .select({ device, kitName: kit.name, ofSite: site.units })
    .from(device)
    .innerJoin(site, eq(site.id, device.siteId))
    .innerJoin(kit, eq(kit.id, device.kitId))
    .where(address === undefined ? undefined : eq(device.address, address))
    .orderBy(asc(sql`lower(${device.name})`), asc(device.id))
  return devices.flatMap(({ device: row, kitName, ofSite }) => {
    const known = registry.get(row.address)
    return known ? tellDevice(parts, row, kitName, known, [units, ofSite]) : []
  })
}

function tellDevice(
  { registry, serial, drops, latest, presences }: DeviceParts,
  row: typeof device.$inferSelect,
  kitName: string | null,
  known: RegisteredDevice,
  units: readonly UnitChoices[],
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
    place: row.place,
    partNames: row.partNames,
    retiredAt: row.retiredAt?.getTime() ?? null,
    constants: row.constants,
    serial: serial.lineOf(row.id),
    dropped: drops.of(row.id),
    heardAt,
    presence,
    createdAt: row.createdAt.getTime(),
    signals: [...known.signals]
      .sort((a, b) => a.definition.order - b.definition.order)
      .map(({ signal: id, part, definition, own, doubt = null, isFormer = false }) => {
        const { id: definitionId, field, name, ...rest } = definition
        const reading = latest.of(id)
        return {
          ...(rest as Omit<
            Signal,
            | 'id'
            | 'definitionId'
            | 'part'
            | 'partName'
            | 'isFormer'
            | 'field'
            | 'name'
            | 'own'
            | 'doubt'
            | 'presence'
            | 'isCalibrated'
            | 'shownAs'
            | 'latest'
          >),
          id,
          definitionId,
          part,
          partName: row.partNames[part] ?? part,
          isFormer,
          field: part === '' ? field : fieldOfPart(field, part),
          name,
          own: own as Signal['own'][number][],
          doubt,
          presence: presenceOf.get(id) ?? 'never',
          isCalibrated: registry.calibrations.of(id).length > 0,
          shownAs: shownAs(definition.unit, ...units),
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
