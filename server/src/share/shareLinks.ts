import type { Past } from '@jaunty-sparrow/contract'
import { type Bucket, draw } from '@jaunty-sparrow/core/device'
import { and, eq, gt, inArray, isNull, or, sql } from 'drizzle-orm'
import { LRUCache } from 'lru-cache'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import { ProblemError } from '../http/problemResponse.ts'
import { hashToken } from '../secrets/token.ts'
import type { Database } from '../store/database.ts'
import { shareLink } from '../store/schema.ts'
import { sharedDashboard } from './sharedDashboard.ts'

/** How often one address may ask for what is shared: a whole school may look from behind one. */
const allowance = { perMinute: 1200, capacity: 1200 }
/** So many addresses are remembered at most. */
const mostRemembered = 10_000

type Row = typeof shareLink.$inferSelect

/** A link that shows something, and what. */
export interface OpenLink {
  readonly id: number
  readonly name: string
  /** What it shows: a device, or a dashboard, or one instrument of it. */
  readonly deviceId: number | null
  readonly dashboardId: number | null
  readonly instrumentId: string | null
  readonly isSingle: boolean
  readonly past: Past
  readonly frameAncestors: readonly string[]
  readonly expiresAt: number | null
  /** What it shows: the signals of the device that are accepted, or the one that was chosen. */
  readonly signals: ReadonlySet<number>
}

/** Links by which anybody may look at a device or a dashboard. */
export class ShareLinks {
  readonly #database: Database
  readonly #registry: DeviceRegistry
  readonly #now: () => number
  readonly #buckets = new LRUCache<string, Bucket>({ max: mostRemembered })

  constructor(database: Database, registry: DeviceRegistry, now: () => number) {
    this.#database = database
    this.#registry = registry
    this.#now = now
  }

  /** Lets a stranger ask, unless there was too much from there. @param cost as much as so many requests @throws ProblemError that says how long to wait */
  admit(ip: string, cost = 1): void {
    const { bucket, wait } = draw(this.#buckets.get(ip), cost, allowance, this.#now())
    this.#buckets.set(ip, bucket)
    if (wait === 0) return
    const seconds = Math.ceil(wait / 1000)
    throw new ProblemError(
      'too-many-attempts',
      `Too much was asked for from this address. Wait ${seconds} s.`,
      {},
      { 'Retry-After': String(seconds) },
    )
  }

  /** What a link shows; undefined where there is none such any more. */
  async open(token: string): Promise<OpenLink | undefined> {
    const [row] = await this.#database
      .select()
      .from(shareLink)
      .where(and(eq(shareLink.tokenHash, hashToken(token)), this.#isGood()))
    const shown = row && (await this.#shownBy(row))
    if (!row || !shown) return undefined
    const { id, name, deviceId, dashboardId, instrumentId, past, frameAncestors, expiresAt, signalId } = row
    return {
      id,
      name,
      deviceId,
      dashboardId,
      instrumentId,
      past,
      frameAncestors,
      isSingle: signalId !== null || instrumentId !== null,
      expiresAt: expiresAt?.getTime() ?? null,
      signals: new Set(shown),
    }
  }

  /** The signals that a link shows; undefined where what it showed is no more. */
  async #shownBy({ deviceId, dashboardId, instrumentId, signalId }: Row): Promise<number[] | undefined> {
    if (dashboardId !== null) {
      const page = await sharedDashboard(this.#database, this.#registry, dashboardId, instrumentId)
      return page?.devices.flatMap(({ signals }) => signals)
    }
    const device = deviceId === null ? undefined : this.#registry.byId(deviceId)
    if (!device) return undefined
    return [...device.signals]
      .filter(
        ({ signal, definition }) =>
          definition.state === 'accepted' && (signalId === null || signalId === signal),
      )
      .map(({ signal }) => signal)
  }

  /** Which of these links still show something. */
  async alive(links: readonly OpenLink[]): Promise<ReadonlySet<number>> {
    if (links.length === 0) return new Set()
    const rows = await this.#database
      .select({ id: shareLink.id })
      .from(shareLink)
      .where(
        and(
          inArray(
            shareLink.id,
            links.map(({ id }) => id),
          ),
          this.#isGood(),
        ),
      )
    return new Set(rows.map(({ id }) => id))
  }

  /** Counts that somebody opened it. */
  async looked(id: number): Promise<void> {
    await this.#database
      .update(shareLink)
      .set({ looks: sql`${shareLink.looks} + 1`, lookedAt: new Date(this.#now()) })
      .where(eq(shareLink.id, id))
  }

  #isGood() {
    return or(isNull(shareLink.expiresAt), gt(shareLink.expiresAt, new Date(this.#now())))
  }
}
