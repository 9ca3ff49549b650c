import type { DatedEvent } from '@jaunty-sparrow/contract'
import { type Access, mayEverywhere } from '@jaunty-sparrow/core/access'
import { and, desc, eq, gte, inArray, isNotNull, isNull, lt, or } from 'drizzle-orm'
import type { Caller } from '../http/session.ts'
import type { Database } from '../store/database.ts'
import { datedEvent } from '../store/schema.ts'

/** What happened, as it is written down; what is left out does not concern it. */
export interface NewEvent {
  readonly kind: DatedEvent['kind']
  /** Epoch ms. */
  readonly at: number
  readonly until?: number | null
  /** Found out from the device or the kit where it is left out. */
  readonly siteId?: number | null | undefined
  readonly kitId?: number | null
  readonly deviceId?: number | null
  readonly signalId?: number | null
  readonly server?: string | null
  /** Who did it. */
  readonly caller?: Pick<Caller, 'person' | 'token'>
  /** What differs by it. */
  readonly change?: DatedEvent['change']
  readonly says: string
}

export interface EventFilter {
  readonly from: number
  readonly to: number
  readonly kind?: DatedEvent['kind']
  /** Only what somebody did. */
  readonly changes?: boolean
  readonly personId?: number
  /** Only those with a lower number. */
  readonly before?: number
  readonly siteId?: number
  readonly kitId?: number
  readonly deviceId?: number
  readonly signalId?: number
}

/** Where things are. */
interface SitesOf {
  ofDevice(id: number): number | undefined
  ofKit(id: number): readonly number[]
}

const mostListed = 1000

type Row = typeof datedEvent.$inferSelect

/** The one store of what happened at a time, or over one. */
export class EventStore {
  readonly #database: Database
  readonly #sites: SitesOf
  readonly #listeners: ((event: DatedEvent) => void)[] = []

  constructor(database: Database, sites: SitesOf) {
    this.#database = database
    this.#sites = sites
  }

  /** Calls back with what was written down. */
  onWritten(listener: (event: DatedEvent) => void): void {
    this.#listeners.push(listener)
  }

  /** @returns it as it is told; undefined where it was written down already */
  async write({ at, until, caller, siteId, ...event }: NewEvent): Promise<DatedEvent | undefined> {
    const [made] = await this.#database
      .insert(datedEvent)
      .values({
        ...event,
        siteId: siteId === undefined ? this.#siteOf(event) : siteId,
        at: new Date(at),
        until: until === undefined || until === null ? null : new Date(until),
        ...(caller && { personId: caller.person.id, personName: caller.person.name, token: caller.token }),
      })
      // A drop-out that goes on is there already when another server saw it first.
      .onConflictDoNothing()
      .returning()
    if (!made) return undefined
    this.#tell(made)
    return told(made)
  }

  /** What concerns more than one site is for those who look after all of them. */
  #siteOf({ deviceId, kitId }: Pick<NewEvent, 'deviceId' | 'kitId'>): number | null {
    if (typeof deviceId === 'number') return this.#sites.ofDevice(deviceId) ?? null
    const sites = typeof kitId === 'number' ? this.#sites.ofKit(kitId) : []
    return sites.length === 1 ? (sites[0] ?? null) : null
  }

  /** Tells of what was written down elsewhere, in a transaction of its own. */
  async tellOf(ids: readonly number[]): Promise<void> {
    if (ids.length === 0) return
    const rows = await this.#database
      .select()
      .from(datedEvent)
      .where(inArray(datedEvent.id, [...ids]))
    for (const row of rows) this.#tell(row)
  }

  /** Takes back what was written down. */
  async remove(id: number): Promise<void> {
    const [gone] = await this.#database.delete(datedEvent).where(eq(datedEvent.id, id)).returning()
    if (gone) this.#tell(gone)
  }

  /** A device that had dropped out was heard again. @param at epoch ms */
  async endDropOut(deviceId: number, at: number): Promise<void> {
    const [ended] = await this.#database
      .update(datedEvent)
      .set({ until: new Date(at) })
      .where(
        and(eq(datedEvent.deviceId, deviceId), eq(datedEvent.kind, 'drop-out'), isNull(datedEvent.until)),
      )
      .returning()
    if (ended) this.#tell(ended)
  }

  /** The devices whose drop-out goes on, and since when, epoch ms. */
  async openDropOuts(): Promise<Map<number, number>> {
    const rows = await this.#database
      .select({ deviceId: datedEvent.deviceId, at: datedEvent.at })
      .from(datedEvent)
      .where(and(eq(datedEvent.kind, 'drop-out'), isNull(datedEvent.until)))
    return new Map(rows.flatMap(({ deviceId, at }) => (deviceId === null ? [] : [[deviceId, at.getTime()]])))
  }

  /** What lies in a span, or reaches into it, the newest first, as far as somebody may see it. */
  async list({ from, to, changes, before, ...of }: EventFilter, access: Access): Promise<DatedEvent[]> {
    const begins = and(gte(datedEvent.at, new Date(from)), lt(datedEvent.at, new Date(to)))
    const reachesIn = and(
      lt(datedEvent.at, new Date(from)),
      or(
        gte(datedEvent.until, new Date(from)),
        and(inArray(datedEvent.kind, ['drop-out', 'alarm']), isNull(datedEvent.until)),
      ),
    )
    const wanted = (['kind', 'siteId', 'kitId', 'deviceId', 'signalId', 'personId'] as const).flatMap(
      (key) => (of[key] === undefined ? [] : eq(datedEvent[key], of[key])),
    )
    const rows = await this.#database
      .select()
      .from(datedEvent)
      .where(
        and(
          or(begins, reachesIn),
          seen(access),
          changes ? isNotNull(datedEvent.personName) : undefined,
          before === undefined ? undefined : lt(datedEvent.id, before),
          ...wanted,
        ),
      )
      .orderBy(desc(datedEvent.at), desc(datedEvent.id))
      .limit(mostListed)
    return rows.map(told)
  }

  #tell(row: Row): void {
    for (const listener of this.#listeners) listener(told(row))
  }
}

/** What is of no one site is for those who may look at all of them. */
const seen = (access: Access) =>
  mayEverywhere(access, 'viewer')
    ? undefined
    : inArray(
        datedEvent.siteId,
        access.sites.map(({ siteId }) => siteId),
      )

const told = ({ at, until, kind, personId: _, personName, change, ...rest }: Row): DatedEvent => ({
  ...rest,
  kind: kind as DatedEvent['kind'],
  at: at.getTime(),
  until: until?.getTime() ?? null,
  person: personName,
  change: change ?? null,
})
