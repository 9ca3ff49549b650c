import type { DatedEvent } from '@jaunty-sparrow/contract'
import { and, desc, eq, gte, isNull, lt, or, sql } from 'drizzle-orm'
import type { Database } from '../store/database.ts'
import { datedEvent, person } from '../store/schema.ts'

/** What happened, as it is written down; what is left out does not concern it. */
export interface NewEvent {
  readonly kind: DatedEvent['kind']
  /** Epoch ms. */
  readonly at: number
  readonly until?: number | null
  readonly siteId?: number | null
  readonly kitId?: number | null
  readonly deviceId?: number | null
  readonly signalId?: number | null
  readonly server?: string | null
  readonly personId?: number | null
  readonly says: string
}

export interface EventFilter {
  readonly from: number
  readonly to: number
  readonly kind?: DatedEvent['kind']
  readonly siteId?: number
  readonly kitId?: number
  readonly deviceId?: number
  readonly signalId?: number
}

const mostListed = 1000

type Row = typeof datedEvent.$inferSelect

/** The one store of what happened at a time, or over one. */
export class EventStore {
  readonly #database: Database
  readonly #listeners: ((event: DatedEvent) => void)[] = []

  constructor(database: Database) {
    this.#database = database
  }

  /** Calls back with what was written down. */
  onWritten(listener: (event: DatedEvent) => void): void {
    this.#listeners.push(listener)
  }

  async write({ at, until, ...event }: NewEvent): Promise<void> {
    const [made] = await this.#database
      .insert(datedEvent)
      .values({
        ...event,
        at: new Date(at),
        until: until === undefined || until === null ? null : new Date(until),
      })
      // A drop-out that goes on is there already when another server saw it first.
      .onConflictDoNothing()
      .returning()
    if (made) await this.#tell(made)
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
    if (ended) await this.#tell(ended)
  }

  /** The devices whose drop-out goes on, and since when, epoch ms. */
  async openDropOuts(): Promise<Map<number, number>> {
    const rows = await this.#database
      .select({ deviceId: datedEvent.deviceId, at: datedEvent.at })
      .from(datedEvent)
      .where(and(eq(datedEvent.kind, 'drop-out'), isNull(datedEvent.until)))
    return new Map(rows.flatMap(({ deviceId, at }) => (deviceId === null ? [] : [[deviceId, at.getTime()]])))
  }

  /** What lies in a span, or reaches into it, the newest first. */
  async list({ from, to, ...of }: EventFilter): Promise<DatedEvent[]> {
    const begins = and(gte(datedEvent.at, new Date(from)), lt(datedEvent.at, new Date(to)))
    const reachesIn = and(
      lt(datedEvent.at, new Date(from)),
      or(
        gte(datedEvent.until, new Date(from)),
        and(eq(datedEvent.kind, 'drop-out'), isNull(datedEvent.until)),
      ),
    )
    const wanted = (['kind', 'siteId', 'kitId', 'deviceId', 'signalId'] as const).flatMap((key) =>
      of[key] === undefined ? [] : eq(datedEvent[key], of[key]),
    )
    const rows = await this.#database
      .select({ event: datedEvent, person: person.name })
      .from(datedEvent)
      .leftJoin(person, eq(person.id, datedEvent.personId))
      .where(and(or(begins, reachesIn), ...wanted))
      .orderBy(desc(datedEvent.at), desc(datedEvent.id))
      .limit(mostListed)
    return rows.map(({ event, person: by }) => told(event, by))
  }

  async #tell(row: Row): Promise<void> {
    const [by] =
      row.personId === null
        ? []
        : await this.#database.select({ name: person.name }).from(person).where(sql`id = ${row.personId}`)
    for (const listener of this.#listeners) listener(told(row, by?.name ?? null))
  }
}

const told = ({ at, until, kind, personId: _, ...rest }: Row, by: string | null): DatedEvent => ({
  ...rest,
  kind: kind as DatedEvent['kind'],
  at: at.getTime(),
  until: until?.getTime() ?? null,
  person: by,
})
