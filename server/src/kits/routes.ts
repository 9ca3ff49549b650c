import { type Kit, routes, type SignalDefinition } from '@jaunty-sparrow/contract'
import { mayAt } from '@jaunty-sparrow/core/access'
import { type SignalSettings, usualSettings } from '@jaunty-sparrow/core/signal'
import { asc, eq, isNull, sql } from 'drizzle-orm'
import { checkConstants } from '../devices/checkConstants.ts'
import { makeSignals } from '../devices/makeSignals.ts'
import { maySeeKit } from '../devices/maySeeKit.ts'
import type { DeviceParts } from '../devices/routes.ts'
import { changeOf } from '../events/changeOf.ts'
import type { EventStore, NewEvent } from '../events/eventStore.ts'
import { ProblemError } from '../http/problemResponse.ts'
import type { Caller } from '../http/session.ts'
import { breaksReference, isTaken } from '../store/databaseError.ts'
import { device, kit, signalDefinition } from '../store/schema.ts'
import { describedBy, rememberVersion } from './descriptions.ts'

export interface KitParts extends Pick<DeviceParts, 'binder' | 'database' | 'registry' | 'hub'> {
  readonly events: EventStore
  readonly now: () => number
}

type Row = typeof signalDefinition.$inferSelect

/** A definition as it is told: with what usually holds where its kit says nothing. */
const told = ({ id, field, name, kind, origin, choices, state, settings }: Row): SignalDefinition => ({
  ...(usualSettings as Omit<SignalSettings, 'bands' | 'faults'> & Pick<SignalDefinition, 'bands' | 'faults'>),
  ...(settings as Partial<SignalDefinition>),
  id,
  field,
  name,
  kind,
  origin,
  choices: [...choices],
  state,
})

/** Kinds of devices: what they are made of. */
export function bindKits({ binder, database, registry, hub, events, now }: KitParts): void {
  const listed = async (kitId?: number) => {
    const rows = await database
      .select({
        id: kit.id,
        name: kit.name,
        cadence: kit.cadence,
        constants: kit.constants,
        devices: sql<string[]>`coalesce(array_agg(${device.address} order by ${device.address})
          filter (where ${device.id} is not null), '{}')`,
      })
      .from(kit)
      .leftJoin(device, eq(device.kitId, kit.id))
      .where(kitId === undefined ? undefined : eq(kit.id, kitId))
      .groupBy(kit.id)
      .orderBy(asc(isNull(kit.name)), asc(sql`lower(${kit.name})`), asc(kit.id))
    return rows
  }
  const find = async (kitId: number): Promise<Kit> => {
    const [row] = await listed(kitId)
    if (!row) throw noKit()
    const definitions = await database
      .select()
      .from(signalDefinition)
      .where(eq(signalDefinition.kitId, kitId))
      .orderBy(asc(signalDefinition.id))
    const signals = definitions.map(told).sort((a, b) => a.order - b.order)
    const [built] = await database
      .select({ notes: kit.notes, wiring: kit.wiring })
      .from(kit)
      .where(eq(kit.id, kitId))
    return { ...row, notes: '', wiring: [], ...built, signals }
  }
  const changed = async (kitId: number, caller: Caller, says: string, change: NewEvent['change'] = null) => {
    await registry.load(kitId)
    hub.kitChanged(kitId)
    await events.write({ kind: 'kit', at: now(), kitId, caller, says, change })
  }

  const isSeenBy =
    ({ access }: Caller) =>
    (address: string) =>
      mayAt(access, 'viewer', registry.get(address)?.siteId ?? -1)

  binder.bind(routes.listKits, async ({ caller }) => {
    const rows = await listed()
    return rows
      .filter(({ id }) => maySeeKit(caller.access, registry, id))
      .map((row) => ({ ...row, devices: row.devices.filter(isSeenBy(caller)) }))
  })

  binder.bind(routes.getKit, async ({ params, caller }) => {
    const found = await find(params.kitId)
    return { ...found, devices: found.devices.filter(isSeenBy(caller)) }
  })

  binder.bind(
    routes.createKit,
    async ({ body: { name, cadence, constants = {}, notes, wiring, signals }, caller }) => {
      checkConstants(constants)
      const described = signals.map(describedBy)
      const personId = caller.person.id
      const id = await database
        .transaction(async (tx) => {
          const [made] = await tx
            .insert(kit)
            .values({ name, cadence, constants, notes, wiring })
            .returning({ id: kit.id })
          if (!made) throw new Error('the kit was not returned by the insert')
          if (described.length > 0) {
            const rows = await tx
              .insert(signalDefinition)
              .values(described.map((each) => ({ ...each, kitId: made.id, state: 'accepted' as const })))
              .returning()
            for (const row of rows) await rememberVersion(tx, row, { at: now(), personId })
          }
          return made.id
        })
        .catch((error: unknown) => {
          throw nameTaken(error, name)
        })
      const made = await find(id)
      const after = { name, cadence, constants, signals: made.signals.map((signal) => signal.name) }
      const says = `The kit "${name}" was made.`
      await events.write({ kind: 'kit', at: now(), kitId: id, caller, says, change: { before: {}, after } })
      return made
    },
  )

  binder.bind(routes.changeKit, async ({ params: { kitId }, body, caller }) => {
    checkConstants(body.constants)
    const [before] = await database.select().from(kit).where(eq(kit.id, kitId))
    const rows = await database
      .update(kit)
      .set(body)
      .where(eq(kit.id, kitId))
      .returning()
      .catch((error: unknown) => {
        throw nameTaken(error, body.name ?? '')
      })
    const [row] = rows
    if (!row) throw noKit()
    const says = `What is said of ${row.name === null ? 'the kit of a device' : `the kit "${row.name}"`} was changed.`
    await changed(kitId, caller, says, before ? changeOf(before, row, Object.keys(body)) : null)
  })

  binder.bind(routes.deleteKit, async ({ params: { kitId }, caller }) => {
    const rows = await database
      .delete(kit)
      .where(eq(kit.id, kitId))
      .returning({ name: kit.name })
      .catch((error: unknown) => {
        if (!breaksReference(error)) throw error
        throw new ProblemError(
          'conflict',
          'Devices are made of this kit; delete them, or give them another, first.',
        )
      })
    const [gone] = rows
    if (!gone) throw noKit()
    hub.kitChanged(kitId)
    const says = `The kit "${gone.name ?? ''}" was deleted.`
    await events.write({
      kind: 'kit',
      at: now(),
      caller,
      says,
      change: { before: { name: gone.name }, after: {} },
    })
  })

  binder.bind(routes.addSignalDefinition, async ({ params: { kitId }, body, caller }) => {
    const described = describedBy(body)
    const personId = caller.person.id
    const made = await database.transaction(async (tx) => {
      const [there] = await tx.select({ id: kit.id }).from(kit).where(eq(kit.id, kitId))
      if (!there) throw noKit()
      const [row] = await tx
        .insert(signalDefinition)
        .values({ ...described, kitId, state: 'accepted' })
        .returning()
      if (!row) throw new Error('the signal was not returned by the insert')
      await rememberVersion(tx, row, { at: now(), personId })
      await makeSignals(tx, kitId)
      return row
    })
    const { field, name, kind } = made
    const change = { before: {}, after: { field, name, kind, ...made.settings } }
    await changed(kitId, caller, `The signal "${name}" was added.`, change)
    return told(made)
  })
}

const noKit = (): ProblemError => new ProblemError('not-found', 'There is no such kit.')

const nameTaken = (error: unknown, name: string | null): unknown =>
  isTaken(error) ? new ProblemError('conflict', `There is already a kit called "${name}".`) : error
