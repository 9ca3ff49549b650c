import { type Device, routes } from '@jaunty-sparrow/contract'
import { limitsOf, topicFilterProblem } from '@jaunty-sparrow/core'
import { asc, eq, sql } from 'drizzle-orm'
import groupBy from 'lodash-es/groupBy.js'
import type { RefusalRecorder } from '../arrivals/recorder.ts'
import type { TakingUp } from '../arrivals/takingUp.ts'
import { ProblemError } from '../doors/problemResponse.ts'
import type { SerialDoor } from '../doors/serialDoor.ts'
import { type DeviceRegistry, makeSignals } from '../ingest/deviceRegistry.ts'
import type { GroupCommit } from '../ingest/groupCommit.ts'
import type { LiveHub } from '../live/hub.ts'
import { hashToken, newToken } from '../people/token.ts'
import type { Database } from '../store/database.ts'
import { isMissingReference, isTaken } from '../store/databaseError.ts'
import type { MessageStore } from '../store/messages.ts'
import type { ReadingStore } from '../store/readings.ts'
import { device, kit, signal, signalDefinition } from '../store/schema.ts'
import type { Binder } from './binder.ts'

export interface DeviceParts {
  readonly binder: Binder
  readonly database: Database
  readonly registry: DeviceRegistry
  readonly commit: GroupCommit
  readonly store: ReadingStore
  readonly messages: MessageStore
  readonly hub: LiveHub
  readonly serial: SerialDoor
  readonly takingUp: TakingUp
  readonly recorder: RefusalRecorder
}

export function bindDevices(parts: DeviceParts): void {
  const { binder, database, registry, commit, store, messages, hub, takingUp, recorder, serial } = parts
  binder.bind(routes.listDevices, () => listDevices(parts))

  binder.bind(routes.createDevice, async ({ body }) => {
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
    hub.devicesChanged()
    const made = (await listDevices(parts)).find(({ address }) => address === body.address)
    if (!made) throw new Error('the device was not found after it was made')
    return { device: made, secret }
  })

  binder.bind(routes.changeDevice, async ({ params, body }) => {
    const problem = body.reach?.map(topicFilterProblem).find((found) => found !== undefined)
    if (problem) throw new ProblemError('invalid', problem)
    const rows = await database
      .update(device)
      .set(body)
      .where(eq(device.address, params.address))
      .returning({ kitId: device.kitId })
      .catch((error: unknown) => {
        throw missing(error)
      })
    const [row] = rows
    if (!row) throw noDevice(params.address)
    await registry.load(row.kitId)
    hub.devicesChanged()
  })

  binder.bind(routes.replaceSecret, async ({ params }) => {
    const secret = newToken()
    const [row] = await database
      .update(device)
      .set({ secretHash: hashToken(secret) })
      .where(eq(device.address, params.address))
      .returning({ kitId: device.kitId })
    if (!row) throw noDevice(params.address)
    await registry.load(row.kitId)
    return { secret }
  })

  binder.bind(routes.getDeviceLoss, async ({ params }) => {
    const signals = await signalsOf(database, params.address)
    return { signals: signals.length, ...(await store.extent(signals)) }
  })

  binder.bind(routes.deleteDevice, async ({ params }) => {
    const signals = await signalsOf(database, params.address)
    const deviceId = await database.transaction(async (tx) => {
      const [gone] = await tx
        .delete(device)
        .where(eq(device.address, params.address))
        .returning({ id: device.id, kitId: device.kitId })
      if (gone) await tx.delete(kit).where(sql`${kit.id} = ${gone.kitId} and ${kit.name} is null`)
      return gone?.id
    })
    // First nobody may write any more and what is on its way lands; then it can be swept.
    registry.forget(params.address)
    if (deviceId !== undefined) await serial.remove(deviceId)
    await commit.settled()
    hub.forget(signals)
    hub.devicesChanged()
    await store.delete(signals)
    if (deviceId !== undefined) await messages.deleteOf(deviceId)
  })

  binder.bind(routes.createKit, async ({ body }) => {
    const { name, cadenceSeconds, signals } = body
    return database
      .transaction(async (tx) => {
        const [made] = await tx.insert(kit).values({ name, cadenceSeconds }).returning({ id: kit.id })
        if (!made) throw new Error('the kit was not returned by the insert')
        if (signals.length > 0) {
          await tx
            .insert(signalDefinition)
            .values(
              signals.map((definition) => ({ ...definition, kitId: made.id, state: 'accepted' as const })),
            )
        }
        return { id: made.id, name, cadenceSeconds }
      })
      .catch((error: unknown) => {
        if (isTaken(error)) {
          throw new ProblemError(
            'conflict',
            `There is already a kit called "${name}", or two of its signals read the same field.`,
          )
        }
        throw error
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

const missing = (error: unknown): unknown =>
  isMissingReference(error)
    ? new ProblemError('not-found', 'The site or kit that was named does not exist.')
    : error

/** All devices with their signals, in the order their definitions were made, and the latest readings out of memory. */
async function listDevices({ database, registry, hub, serial }: DeviceParts): Promise<Device[]> {
  const [devices, signals] = await Promise.all([
    database
      .select({ device, kitName: kit.name, kitCadence: kit.cadenceSeconds })
      .from(device)
      .innerJoin(kit, eq(kit.id, device.kitId))
      .orderBy(asc(sql`lower(${device.name})`), asc(device.id)),
    database
      .select({ id: signal.id, deviceId: signal.deviceId, definition: signalDefinition })
      .from(signal)
      .innerJoin(signalDefinition, eq(signalDefinition.id, signal.definitionId))
      .orderBy(asc(signalDefinition.id)),
  ])
  const byDevice = groupBy(signals, ({ deviceId }) => deviceId)
  return devices.map(({ device: row, kitName, kitCadence }) => {
    const own = (byDevice[row.id] ?? []).map(({ id, definition }) => {
      const { field, name, kind, state, unit, rangeLow, rangeHigh, keep } = definition
      const reading = hub.latest(id)
      const latest = reading
        ? { at: reading.at, receivedAt: reading.receivedAt, value: reading.value, quality: reading.quality }
        : null
      return {
        id,
        definitionId: definition.id,
        field,
        name,
        kind,
        state,
        unit,
        rangeLow,
        rangeHigh,
        keep,
        latest,
      }
    })
    const seen = own.flatMap(({ latest }) => latest?.receivedAt ?? [])
    const registered = registry.get(row.address)
    const { messagesPerMinute, readingsPerMinute, messageBytes } = row
    const stated = { messagesPerMinute, readingsPerMinute, messageBytes }
    return {
      id: row.id,
      name: row.name,
      address: row.address,
      siteId: row.siteId,
      kit: { id: row.kitId, name: kitName },
      cadence: registered ? registry.cadence(registered) : null,
      limits: { ...limitsOf(stated, kitCadence), stated },
      reach: row.reach,
      serial: serial.lineOf(row.id),
      lastSeenAt: seen.length > 0 ? Math.max(...seen) : null,
      createdAt: row.createdAt.getTime(),
      signals: own,
    }
  })
}
