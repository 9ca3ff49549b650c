import { type Kit, routes, type SignalDefinition } from '@jaunty-sparrow/contract'
import { type SignalSettings, usualSettings } from '@jaunty-sparrow/core/signal'
import { asc, eq, isNull, sql } from 'drizzle-orm'
import { makeSignals } from '../devices/makeSignals.ts'
import type { DeviceParts } from '../devices/routes.ts'
import type { EventStore } from '../events/eventStore.ts'
import { ProblemError } from '../http/problemResponse.ts'
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
    return { ...row, signals }
  }
  const changed = async (kitId: number, personId: number, says: string) => {
    await registry.load(kitId)
    hub.kitChanged(kitId)
    await events.write({ kind: 'kit', at: now(), kitId, personId, says })
  }

  binder.bind(routes.listKits, () => listed())

  binder.bind(routes.getKit, ({ params }) => find(params.kitId))

  binder.bind(routes.createKit, async ({ body: { name, cadence, signals }, session }) => {
    const described = signals.map(describedBy)
    const personId = session.person.id
    const id = await database
      .transaction(async (tx) => {
        const [made] = await tx.insert(kit).values({ name, cadence }).returning({ id: kit.id })
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
    await events.write({ kind: 'kit', at: now(), kitId: id, personId, says: `The kit "${name}" was made.` })
    return find(id)
  })

  binder.bind(routes.changeKit, async ({ params: { kitId }, body, session }) => {
    const rows = await database
      .update(kit)
      .set(body)
      .where(eq(kit.id, kitId))
      .returning({ name: kit.name })
      .catch((error: unknown) => {
        throw nameTaken(error, body.name ?? '')
      })
    const [row] = rows
    if (!row) throw noKit()
    const says =
      body.cadence === undefined
        ? `The kit is called "${row.name}" now.`
        : `How often the devices of ${row.name === null ? 'its kit' : `"${row.name}"`} speak was changed.`
    await changed(kitId, session.person.id, says)
  })

  binder.bind(routes.deleteKit, async ({ params: { kitId }, session }) => {
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
    await events.write({ kind: 'kit', at: now(), personId: session.person.id, says })
  })

  binder.bind(routes.addSignalDefinition, async ({ params: { kitId }, body, session }) => {
    const described = describedBy(body)
    const personId = session.person.id
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
    await changed(kitId, personId, `The signal "${made.name}" was added.`)
    return told(made)
  })
}

const noKit = (): ProblemError => new ProblemError('not-found', 'There is no such kit.')

const nameTaken = (error: unknown, name: string | null): unknown =>
  isTaken(error) ? new ProblemError('conflict', `There is already a kit called "${name}".`) : error
