import {
  type BodyOf,
  type Device,
  routes,
  type SharedPage,
  type ShareLink,
  type Signal,
} from '@jaunty-sparrow/contract'
import { asc, eq, type SQL } from 'drizzle-orm'
import type { Request } from 'express'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import type { EventStore } from '../events/eventStore.ts'
import type { Binder } from '../http/binder.ts'
import { ProblemError } from '../http/problemResponse.ts'
import type { Caller } from '../http/session.ts'
import type { ReadingStore } from '../readings/readingStore.ts'
import { hashToken, newToken } from '../secrets/token.ts'
import type { Database } from '../store/database.ts'
import { dashboard, person, shareLink, site } from '../store/schema.ts'
import { tellLastReadings, tellTotals } from '../totals/routes.ts'
import type { TotalsReader } from '../totals/totalsReader.ts'
import { tellTraces } from '../traces/routes.ts'
import type { TraceReader } from '../traces/traceReader.ts'
import { sharedDashboard } from './sharedDashboard.ts'
import type { OpenLink, ShareLinks } from './shareLinks.ts'

const day = 86_400_000
/** Who may see nothing of the past still sees where the line on the screen began. */
const glimpse = 3_600_000

export interface ShareParts {
  readonly binder: Binder
  readonly database: Database
  readonly registry: DeviceRegistry
  readonly events: EventStore
  readonly traces: TraceReader
  readonly totals: TotalsReader
  readonly store: ReadingStore
  readonly links: ShareLinks
  /** How many look on by a link. */
  readonly lookingOn: (linkId: number) => number
  /** A device as it is told to those who may look at it. */
  readonly tellDevice: (address: string) => Promise<Device>
  readonly accessChanged: () => void
  readonly now: () => number
}

type Row = typeof shareLink.$inferSelect

/** Links by which anybody may look, and what they show. */
export function bindShares(parts: ShareParts): void {
  const { binder, database, registry, events, traces, links, lookingOn, tellDevice, accessChanged, now } =
    parts
  const told = ({ tokenHash: _, personId: __, deviceId, ...row }: Row, by: string | null): ShareLink => ({
    ...row,
    address: deviceId === null ? null : (registry.byId(deviceId)?.address ?? null),
    by,
    createdAt: row.createdAt.getTime(),
    expiresAt: row.expiresAt?.getTime() ?? null,
    lookedAt: row.lookedAt?.getTime() ?? null,
    lookingOn: lookingOn(row.id),
  })

  const list = async (which: SQL): Promise<ShareLink[]> => {
    const rows = await database
      .select({ row: shareLink, by: person.name })
      .from(shareLink)
      .leftJoin(person, eq(person.id, shareLink.personId))
      .where(which)
      .orderBy(asc(shareLink.id))
    return rows.map(({ row, by }) => told(row, by))
  }

  const create = async (
    { expiresAt, ...body }: BodyOf<typeof routes.createShareLink> | BodyOf<typeof routes.createDashboardLink>,
    of: { deviceId: number } | { dashboardId: number },
    siteId: number,
    caller: Caller,
  ): Promise<{ token: string; link: ShareLink }> => {
    if (expiresAt !== null && expiresAt <= now())
      throw new ProblemError('invalid', 'A link that has ended already shows nothing; choose a later end.')
    const token = newToken()
    const [made] = await database
      .insert(shareLink)
      .values({
        ...body,
        ...of,
        tokenHash: hashToken(token),
        personId: caller.person.id,
        expiresAt: expiresAt === null ? null : new Date(expiresAt),
        createdAt: new Date(now()),
      })
      .returning()
    if (!made) throw new Error('the link was not returned by the insert')
    const says = `"${body.name}" is shared by a link.`
    const change = { before: {}, after: { ...body, expiresAt } }
    await events.write({ kind: 'link', at: now(), caller, siteId, deviceId: made.deviceId, says, change })
    return { token, link: told(made, caller.person.name) }
  }

  binder.bind(routes.listShareLinks, async ({ params }) =>
    list(eq(shareLink.deviceId, registry.get(params.address)?.id ?? 0)),
  )

  binder.bind(routes.createShareLink, async ({ params, body, caller }) => {
    const device = registry.get(params.address)
    if (!device) throw new ProblemError('not-found', 'There is no such device.')
    if (body.signalId !== null && ![...device.signals].some(({ signal }) => signal === body.signalId))
      throw new ProblemError('not-found', 'This device has no such signal.')
    return create(body, { deviceId: device.id }, device.siteId, caller)
  })

  /** @throws ProblemError where there is none such, or it is somebody else's own */
  const findDashboard = async (id: number, caller: Caller): Promise<typeof dashboard.$inferSelect> => {
    const [page] = await database.select().from(dashboard).where(eq(dashboard.id, id))
    if (!page || (page.personId !== null && page.personId !== caller.person.id))
      throw new ProblemError('not-found', 'There is no such dashboard.')
    return page
  }

  binder.bind(routes.listDashboardLinks, async ({ params, caller }) => {
    const { id } = await findDashboard(params.dashboardId, caller)
    return list(eq(shareLink.dashboardId, id))
  })

  binder.bind(routes.createDashboardLink, async ({ params, body, caller }) => {
    const page = await findDashboard(params.dashboardId, caller)
    const { instrumentId } = body
    const isThere =
      instrumentId === null ||
      page.shows.chapters.some(({ instruments }) => instruments?.some(({ id }) => id === instrumentId))
    if (!isThere) throw new ProblemError('not-found', 'This dashboard has no such instrument.')
    return create(body, { dashboardId: page.id }, page.siteId, caller)
  })

  binder.bind(routes.withdrawShareLink, async ({ params, caller }) => {
    const [gone] = await database.delete(shareLink).where(eq(shareLink.id, params.linkId)).returning()
    if (!gone) throw new ProblemError('not-found', 'There is no such link.')
    accessChanged()
    const says = `"${gone.name}" is no longer shared by that link.`
    await events.write({ kind: 'link', at: now(), caller, deviceId: gone.deviceId, says })
  })

  const open = async (token: string, request: Request): Promise<OpenLink> => {
    links.admit(request.ip ?? '')
    const link = await links.open(token)
    if (!link)
      throw new ProblemError(
        'link-spent',
        'This link shows nothing any more: it was withdrawn, or its time is over.',
      )
    return link
  }

  /** What a link shows, as it is told. */
  const shownBy = async ({
    deviceId,
    dashboardId,
    instrumentId,
  }: OpenLink): Promise<{ signals: readonly Signal[]; siteId: number; page: SharedPage['dashboard'] }> => {
    if (dashboardId === null) {
      const { address } = (deviceId !== null && registry.byId(deviceId)) || { address: '' }
      return { ...(await tellDevice(address)), page: null }
    }
    const page = (await sharedDashboard(database, registry, dashboardId, instrumentId)) ?? null
    const devices = await Promise.all((page?.devices ?? []).map(({ address }) => tellDevice(address)))
    return { signals: devices.flatMap(({ signals }) => signals), siteId: devices[0]?.siteId ?? 0, page }
  }

  binder.bind(routes.getSharedPage, async ({ params, request }): Promise<SharedPage> => {
    const link = await open(params.token, request)
    await links.looked(link.id)
    const { signals, siteId, page } = await shownBy(link)
    const zones = database.select({ timeZone: site.timeZone }).from(site)
    const [place] = await zones.where(eq(site.id, siteId))
    const { name, past, expiresAt, isSingle } = link
    return {
      name,
      past,
      expiresAt,
      isSingle,
      timeZone: place?.timeZone ?? 'UTC',
      lookingOn: lookingOn(link.id),
      signals: signals.filter(({ id }) => link.signals.has(id)).map(forStrangers),
      dashboard: page,
    }
  })

  /** From when on a link shows what it was asked for, epoch ms. */
  const openFrom = async (token: string, signals: string, request: Request): Promise<number> => {
    const link = await open(token, request)
    if (!signals.split(',').every((signal) => link.signals.has(Number(signal))))
      throw new ProblemError('not-found', 'This link does not show that signal.')
    return now() - { none: glimpse, day, all: Infinity }[link.past]
  }

  binder.bind(routes.getSharedTraces, async ({ params, query, request }) => {
    const from = Math.max(query.from, await openFrom(params.token, query.signals, request))
    return from >= query.to ? [] : tellTraces({ registry, traces }, { ...query, from })
  })

  binder.bind(routes.getSharedTotals, async ({ params, query, request }) => {
    const notBefore = await openFrom(params.token, query.signals, request)
    const from = Math.max(query.from, notBefore)
    return from >= query.to ? [] : tellTotals(parts, { ...query, from }, notBefore)
  })

  binder.bind(routes.getSharedLastReadings, async ({ params, query, request }) =>
    tellLastReadings(parts, query, await openFrom(params.token, query.signals, request)),
  )
}

/** What only those need who work with the device stays with them. */
const forStrangers = (signal: Signal): Signal => ({
  ...signal,
  field: '',
  own: [],
  conversion: null,
  doubt: signal.doubt && { ...signal.doubt, person: '' },
  storing: { by: 'every' },
})
