import { type ResponseOf, routes, type Site } from '@jaunty-sparrow/contract'
import { mayAt } from '@jaunty-sparrow/core/access'
import { asc, eq, sql } from 'drizzle-orm'
import uniq from 'lodash-es/uniq.js'
import { linkDerived } from '../derived/linkDerived.ts'
import { changeOf } from '../events/changeOf.ts'
import type { EventStore } from '../events/eventStore.ts'
import type { Binder } from '../http/binder.ts'
import { ProblemError } from '../http/problemResponse.ts'
import type { Database } from '../store/database.ts'
import { isTaken } from '../store/databaseError.ts'
import { device, site } from '../store/schema.ts'
import { checkUnitChoices } from '../units/unitChoices.ts'

export interface SiteParts {
  readonly binder: Binder
  readonly database: Database
  readonly hub: { sitesChanged(): void }
  readonly events: EventStore
  /** Whose map may lie under places. */
  readonly tiles: ResponseOf<typeof routes.getMapTiles>
  readonly now: () => number
}

const shape = {
  id: site.id,
  name: site.name,
  timeZone: site.timeZone,
  lat: site.lat,
  lon: site.lon,
  units: site.units,
}

export function bindSites({ binder, database, hub, events, tiles, now }: SiteParts): void {
  binder.bind(routes.getMapTiles, async () => tiles)
  const nameTaken = (error: unknown, name = ''): unknown =>
    isTaken(error) ? new ProblemError('conflict', `There is already a site called "${name}".`) : error
  const found = (row: Site | undefined): Site => {
    if (!row) throw new ProblemError('not-found', 'There is no such site.')
    hub.sitesChanged()
    return row
  }

  binder.bind(routes.listSites, async ({ caller }) => {
    const rows = await database
      .select(shape)
      .from(site)
      .orderBy(asc(sql`lower(${site.name})`))
    return rows.filter(({ id }) => mayAt(caller.access, 'viewer', id))
  })

  binder.bind(routes.createSite, async ({ body, caller }) => {
    checkUnitChoices(body.units)
    const rows = await database
      .insert(site)
      .values(body)
      .returning(shape)
      .catch((error: unknown) => {
        throw nameTaken(error, body.name)
      })
    const made = found(rows[0])
    const { id: siteId, ...after } = made
    const says = `The site "${made.name}" was made.`
    await events.write({ kind: 'site', at: now(), caller, siteId, says, change: { before: {}, after } })
    return made
  })

  binder.bind(routes.changeSite, async ({ params, body, caller }) => {
    checkUnitChoices(body.units)
    const all = database.select(shape).from(site)
    const [before] = await all.where(eq(site.id, params.siteId))
    const rows = await database
      .transaction(async (tx) => {
        const changed = await tx.update(site).set(body).where(eq(site.id, params.siteId)).returning(shape)
        const there = await tx
          .select({ kitId: device.kitId })
          .from(device)
          .where(eq(device.siteId, params.siteId))
        // Their days may begin otherwise now.
        await linkDerived(tx, uniq(there.map(({ kitId }) => kitId)))
        return changed
      })
      .catch((error: unknown) => {
        throw nameTaken(error, body.name)
      })
    const after = found(rows[0])
    await events.write({
      kind: 'site',
      at: now(),
      caller,
      siteId: after.id,
      says: `What is said of the site "${after.name}" was changed.`,
      change: before ? changeOf(before, after, Object.keys(body)) : null,
    })
    return after
  })

  binder.bind(routes.deleteSite, async ({ params, caller }) => {
    const [standing] = await database.select().from(device).where(eq(device.siteId, params.siteId)).limit(1)
    if (standing) {
      throw new ProblemError('conflict', 'The site still has devices; move or delete them first.')
    }
    const removal = database.delete(site)
    const rows = await removal.where(eq(site.id, params.siteId)).returning(shape)
    const { name, timeZone } = found(rows[0])
    const change = { before: { name, timeZone }, after: {} }
    await events.write({ kind: 'site', at: now(), caller, says: `The site "${name}" was deleted.`, change })
  })
}
