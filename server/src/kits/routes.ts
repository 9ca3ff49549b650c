import { type Kit, type NewSignalDefinition, routes, type SignalDefinition } from '@jaunty-sparrow/contract'
import { mayAt } from '@jaunty-sparrow/core/access'
import { type SignalSettings, usualSettings } from '@jaunty-sparrow/core/signal'
import { and, asc, eq, isNull, ne, sql } from 'drizzle-orm'
import partition from 'lodash-es/partition.js'
import { linkDerived } from '../derived/linkDerived.ts'
import { checkConstants } from '../devices/checkConstants.ts'
import { makeSignals } from '../devices/makeSignals.ts'
import { maySeeKit } from '../devices/maySeeKit.ts'
import type { DeviceParts } from '../devices/routes.ts'
import { changeOf } from '../events/changeOf.ts'
import type { EventStore, NewEvent } from '../events/eventStore.ts'
import { ProblemError } from '../http/problemResponse.ts'
import type { Caller } from '../http/session.ts'
import type { Database } from '../store/database.ts'
import { breaksReference, isTaken } from '../store/databaseError.ts'
import { device, kit, signal, signalDefinition } from '../store/schema.ts'
import { readDerivation } from './derivations.ts'
import { type Description, describedBy, rememberVersion } from './descriptions.ts'

export interface KitParts extends Pick<DeviceParts, 'binder' | 'database' | 'registry' | 'hub'> {
  readonly events: EventStore
  readonly now: () => number
}

type Lists = 'bands' | 'faults' | 'control' | 'alarms'
type Row = typeof signalDefinition.$inferSelect

/** A definition as it is told: with what usually holds where its kit says nothing. */
const told = ({ id, field, name, kind, origin, choices, state, settings }: Row): SignalDefinition => ({
  ...(usualSettings as Omit<SignalSettings, Lists> & Pick<SignalDefinition, Lists>),
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
      .select({ notes: kit.notes, wiring: kit.wiring, picture: kit.picture })
      .from(kit)
      .where(eq(kit.id, kitId))
    return { ...row, notes: '', wiring: [], picture: null, ...built, signals }
  }
  const changed = async (kitId: number, caller: Caller, says: string, change: NewEvent['change'] = null) => {
    await registry.load(kitId)
    hub.kitChanged(kitId)
    await events.write({ kind: 'kit', at: now(), kitId, caller, says, change })
  }

  /** A new signal of a kit, as it is written. */
  const describe = async (
    tx: Pick<Database, 'select'>,
    caller: Caller,
    kitId: number,
    stated: NewSignalDefinition,
  ): Promise<Description> =>
    describedBy(
      stated,
      stated.derivation ? await readDerivation(tx, registry, caller, kitId, stated.derivation) : undefined,
    )
  const addDefinitions = async (
    tx: Pick<Database, 'insert'>,
    kitId: number,
    described: readonly Description[],
    personId: number,
  ): Promise<Row[]> => {
    const rows = await tx
      .insert(signalDefinition)
      .values(described.map((each) => ({ ...each, kitId, state: 'accepted' as const })))
      .returning()
    for (const row of rows) await rememberVersion(tx, row, { at: now(), personId })
    return rows
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
    async ({ body: { name, cadence, constants = {}, notes, wiring, picture, signals }, caller }) => {
      checkConstants(constants)
      const personId = caller.person.id
      const id = await database
        .transaction(async (tx) => {
          const [made] = await tx
            .insert(kit)
            .values({ name, cadence, constants, notes, wiring, picture })
            .returning({ id: kit.id })
          if (!made) throw new Error('the kit was not returned by the insert')
          // What is derived may name others: it comes after them.
          const [derived, others] = partition(signals, ({ derivation }) => derivation)
          const described = others.map((each) => describedBy(each))
          if (described.length > 0) await addDefinitions(tx, made.id, described, personId)
          for (const each of derived)
            await addDefinitions(tx, made.id, [await describe(tx, caller, made.id, each)], personId)
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
      .transaction(async (tx) => {
        const changedRows = await tx.update(kit).set(body).where(eq(kit.id, kitId)).returning()
        if (body.constants) await linkDerived(tx, [kitId])
        return changedRows
      })
      .catch((error: unknown) => {
        throw nameTaken(error, body.name ?? '')
      })
    const [row] = rows
    if (!row) throw noKit()
    const says = `What is said of ${row.name === null ? 'the kit of a device' : `the kit "${row.name}"`} was changed.`
    await changed(
      kitId,
      caller,
      says,
      before ? changeOf(inWords(before), inWords(row), Object.keys(body)) : null,
    )
  })

  binder.bind(routes.deleteKit, async ({ params: { kitId }, caller }) => {
    const [held] = await database
      .select({ device: device.name })
      .from(signal)
      .innerJoin(device, eq(device.id, signal.deviceId))
      .innerJoin(signalDefinition, eq(signalDefinition.id, signal.definitionId))
      .where(and(eq(signalDefinition.kitId, kitId), ne(device.kitId, kitId)))
      .limit(1)
    if (held)
      throw new ProblemError(
        'conflict',
        `"${held.device}" was made of this kit, and its history would go with it.`,
      )
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
    const personId = caller.person.id
    const made = await database.transaction(async (tx) => {
      const [there] = await tx.select({ id: kit.id }).from(kit).where(eq(kit.id, kitId))
      if (!there) throw noKit()
      const described = await describe(tx, caller, kitId, body)
      const [row] = await addDefinitions(tx, kitId, [described], personId)
      if (!row) throw new Error('the signal was not returned by the insert')
      await makeSignals(tx, kitId)
      return row
    })
    const { field, name, kind } = made
    const change = { before: {}, after: { field, name, kind, ...made.settings } }
    await changed(kitId, caller, `The signal "${name}" was added.`, change)
    return told(made)
  })
}

/** A picture is told by how large it is, and not by its bytes. */
const inWords = (row: typeof kit.$inferSelect) => ({
  ...row,
  picture: row.picture && `a picture of ${Math.round((row.picture.length * 3) / 4 / 1024)} KiB`,
})

const noKit = (): ProblemError => new ProblemError('not-found', 'There is no such kit.')

const nameTaken = (error: unknown, name: string | null): unknown =>
  isTaken(error) ? new ProblemError('conflict', `There is already a kit called "${name}".`) : error
