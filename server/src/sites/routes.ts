import { routes, type Site } from '@jaunty-sparrow/contract'
import { asc, eq, sql } from 'drizzle-orm'
import type { Binder } from '../http/binder.ts'
import { ProblemError } from '../http/problemResponse.ts'
import type { Database } from '../store/database.ts'
import { isTaken } from '../store/databaseError.ts'
import { device, site } from '../store/schema.ts'

export interface SiteParts {
  readonly binder: Binder
  readonly database: Database
  readonly hub: { sitesChanged(): void }
}

const shape = { id: site.id, name: site.name, timeZone: site.timeZone, lat: site.lat, lon: site.lon }

export function bindSites({ binder, database, hub }: SiteParts): void {
  const nameTaken = (error: unknown, name = ''): unknown =>
    isTaken(error) ? new ProblemError('conflict', `There is already a site called "${name}".`) : error
  const found = (row: Site | undefined): Site => {
    if (!row) throw new ProblemError('not-found', 'There is no such site.')
    hub.sitesChanged()
    return row
  }

  binder.bind(routes.listSites, async () =>
    database
      .select(shape)
      .from(site)
      .orderBy(asc(sql`lower(${site.name})`)),
  )

  binder.bind(routes.createSite, async ({ body }) => {
    const rows = await database
      .insert(site)
      .values(body)
      .returning(shape)
      .catch((error: unknown) => {
        throw nameTaken(error, body.name)
      })
    return found(rows[0])
  })

  binder.bind(routes.changeSite, async ({ params, body }) => {
    const rows = await database
      .update(site)
      .set(body)
      .where(eq(site.id, params.siteId))
      .returning(shape)
      .catch((error: unknown) => {
        throw nameTaken(error, body.name)
      })
    return found(rows[0])
  })

  binder.bind(routes.deleteSite, async ({ params }) => {
    const [standing] = await database.select().from(device).where(eq(device.siteId, params.siteId)).limit(1)
    if (standing) {
      throw new ProblemError('conflict', 'The site still has devices; move or delete them first.')
    }
    const removal = database.delete(site)
    const rows = await removal.where(eq(site.id, params.siteId)).returning(shape)
    found(rows[0])
  })
}
