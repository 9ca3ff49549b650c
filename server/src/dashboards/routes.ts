import { type BodyOf, type DashboardSummary, routes } from '@jaunty-sparrow/contract'
import { mayAt, type Role } from '@jaunty-sparrow/core/access'
import { and, asc, desc, eq, lte, sql } from 'drizzle-orm'
import type { EventStore } from '../events/eventStore.ts'
import { type Binder, demand, notAllowed } from '../http/binder.ts'
import { ProblemError } from '../http/problemResponse.ts'
import type { Caller } from '../http/session.ts'
import type { Database } from '../store/database.ts'
import { dashboard, dashboardVersion } from '../store/schema.ts'
import { checkDashboard } from './checkDashboard.ts'

/** So many dashboards of their own may one person keep. */
const mostOfOwn = 200
/** So many versions are kept to go back to. */
const mostVersions = 50

export interface DashboardParts {
  readonly binder: Binder
  readonly database: Database
  readonly hub: { dashboardsChanged(): void }
  readonly events: EventStore
  readonly now: () => number
}

type Row = typeof dashboard.$inferSelect

/** Pages that people make: kept, published anew, and gone back with. */
export function bindDashboards({ binder, database, hub, events, now }: DashboardParts): void {
  /** @throws ProblemError where there is none such, or whoever asks may not see it */
  const find = async (id: number, caller: Caller): Promise<Row> => {
    const [row] = await database.select().from(dashboard).where(eq(dashboard.id, id))
    if (!row || !sees(row, caller)) throw new ProblemError('not-found', 'There is no such dashboard.')
    return row
  }

  binder.bind(routes.listDashboards, async ({ caller }) => {
    const { shows: _, ...rest } = summary
    const rows = await database
      .select(rest)
      .from(dashboard)
      .orderBy(asc(sql`lower(${dashboard.name})`), asc(dashboard.id))
    return rows.filter((row) => sees(row, caller)).map(summarize)
  })

  binder.bind(routes.getDashboard, async ({ params, caller }) => {
    const row = await find(params.dashboardId, caller)
    return { ...summarize(row), shows: row.shows }
  })

  binder.bind(routes.createDashboard, async ({ body: { isMine, ...body }, caller }) => {
    demand(caller, roleFor(isMine, caller), body.siteId, 'There is no such site.')
    checkDashboard(body.shows)
    const ofOwn = eq(dashboard.personId, caller.person.id)
    if (isMine && (await database.$count(dashboard, ofOwn)) >= mostOfOwn)
      throw new ProblemError(
        'conflict',
        `You have ${mostOfOwn} dashboards of your own, and more are not kept. Throw one away first.`,
      )
    const published = { version: 1, publishedAt: new Date(now()), by: caller.person.name }
    const row = await database.transaction(async (tx) => {
      const [made] = await tx
        .insert(dashboard)
        .values({ ...body, ...published, personId: isMine ? caller.person.id : null })
        .returning()
      if (!made) throw new Error('the dashboard was not returned by the insert')
      await tx.insert(dashboardVersion).values(versionOf(made))
      return made
    })
    hub.dashboardsChanged()
    await tell(row, caller, `The dashboard "${row.name}" was made.`)
    return { ...summarize(row), shows: row.shows }
  })

  binder.bind(routes.publishDashboard, async ({ params, body, caller }) => {
    const before = await find(params.dashboardId, caller)
    mayChange(before, caller)
    demand(caller, roleFor(body.isMine, caller), before.siteId, 'There is no such site.')
    checkDashboard(body.shows)
    const row = await database.transaction((tx) => publish(tx, params.dashboardId, body, caller))
    hub.dashboardsChanged()
    await tell(row, caller, `The dashboard "${row.name}" was published anew.`)
    return { ...summarize(row), shows: row.shows }
  })

  const publish = async (
    tx: Pick<Database, 'update' | 'insert' | 'delete' | 'select'>,
    id: number,
    { basedOn, isMine, ...body }: BodyOf<typeof routes.publishDashboard>,
    caller: Caller,
  ): Promise<Row> => {
    const [changed] = await tx
      .update(dashboard)
      .set({
        ...body,
        personId: isMine ? caller.person.id : null,
        version: basedOn + 1,
        publishedAt: new Date(now()),
        by: caller.person.name,
      })
      .where(and(eq(dashboard.id, id), eq(dashboard.version, basedOn)))
      .returning()
    if (!changed) {
      const [there] = await tx.select(summary).from(dashboard).where(eq(dashboard.id, id))
      if (!there) throw new ProblemError('not-found', 'There is no such dashboard.')
      throw new ProblemError(
        'conflict',
        `${there.by ?? 'Somebody'} published this dashboard while you changed it. What you did is kept: look at theirs, then publish yours over it, or keep yours as another one.`,
      )
    }
    await tx.insert(dashboardVersion).values(versionOf(changed))
    await tx
      .delete(dashboardVersion)
      .where(
        and(
          eq(dashboardVersion.dashboardId, id),
          lte(dashboardVersion.version, changed.version - mostVersions),
        ),
      )
    return changed
  }

  binder.bind(routes.deleteDashboard, async ({ params, caller }) => {
    const row = await find(params.dashboardId, caller)
    mayChange(row, caller)
    await database.delete(dashboard).where(eq(dashboard.id, row.id))
    hub.dashboardsChanged()
    await tell(row, caller, `The dashboard "${row.name}" was thrown away.`)
  })

  binder.bind(routes.listDashboardVersions, async ({ params, caller }) => {
    const row = await find(params.dashboardId, caller)
    const versions = await database
      .select()
      .from(dashboardVersion)
      .where(eq(dashboardVersion.dashboardId, row.id))
      .orderBy(desc(dashboardVersion.version))
    return versions.map(({ dashboardId: _, at, ...version }) => ({ ...version, at: at.getTime() }))
  })

  /** What somebody does with a page of their own concerns nobody else. */
  const tell = async ({ siteId, personId }: Row, caller: Caller, says: string): Promise<void> => {
    if (personId === null) await events.write({ kind: 'dashboard', at: now(), caller, siteId, says })
  }
}

const summary = {
  id: dashboard.id,
  siteId: dashboard.siteId,
  personId: dashboard.personId,
  name: dashboard.name,
  role: dashboard.role,
  version: dashboard.version,
  publishedAt: dashboard.publishedAt,
  by: dashboard.by,
  shows: dashboard.shows,
}

const summarize = ({
  id,
  siteId,
  personId,
  name,
  role,
  version,
  publishedAt,
  by,
}: Omit<Row, 'shows'>): DashboardSummary => ({
  id,
  siteId,
  name,
  isMine: personId !== null,
  role,
  version,
  publishedAt: publishedAt.getTime(),
  by,
})

const versionOf = ({ id, version, shows, publishedAt, by }: Row) => ({
  dashboardId: id,
  version,
  shows,
  at: publishedAt,
  by,
})

/** One's own, and of the others those that are for one's role. */
const sees = ({ personId, siteId, role }: Omit<Row, 'shows'>, { access, person }: Caller): boolean =>
  mayAt(access, personId === null ? role : 'viewer', siteId) && (personId === null || personId === person.id)

/** What is everyone's is changed by owners; what is one's own by oneself, but not by a program that may only look. */
const roleFor = (isMine: boolean, { token }: Caller): Role => (isMine && token === null ? 'viewer' : 'owner')

/** @throws ProblemError where whoever asks may look at it only */
function mayChange({ personId, siteId }: Row, caller: Caller): void {
  const role = roleFor(personId !== null, caller)
  if (!mayAt(caller.access, role, siteId)) throw notAllowed(caller, role, ' at this site')
}
