import { createHash } from 'node:crypto'
import { type Device, routes } from '@jaunty-sparrow/contract'
import { secondsOf } from '@jaunty-sparrow/core/signal'
import { eq } from 'drizzle-orm'
import { max, min } from 'lodash-es'
import type { EventStore } from '../events/eventStore.ts'
import type { Binder } from '../http/binder.ts'
import { ProblemError } from '../http/problemResponse.ts'
import { sharedDashboard } from '../share/sharedDashboard.ts'
import type { ShareLinks } from '../share/shareLinks.ts'
import type { Database } from '../store/database.ts'
import { site } from '../store/schema.ts'
import { paperPicture } from './paperPicture.tsx'
import { type PageReaders, shownPage } from './shownPage.ts'

/** A picture costs as much as so many other requests. */
const cost = 20
/** A display is told to come again no sooner and no later than this, s. */
const soonest = 60
const latest = 3600
const minute = 60_000
const month = 30 * 86_400_000

export interface PaperParts extends PageReaders {
  readonly binder: Binder
  readonly database: Database
  readonly links: ShareLinks
  readonly events: EventStore
  readonly tellDevice: (address: string) => Promise<Device>
  readonly now: () => number
}

/** Dashboards as still pictures, for displays of paper and whoever wants one by its address. */
export function bindPaper(parts: PaperParts): void {
  const { binder, database, registry, links, events, tellDevice, now } = parts
  binder.bind(routes.getPaper, async ({ params, query, request, response }) => {
    links.admit(request.ip ?? '', cost)
    const link = await links.open(params.token)
    if (!link || link.dashboardId === null)
      throw new ProblemError(
        'link-spent',
        'There is no picture by this address: it was withdrawn, its time is over, or it is not of a dashboard.',
      )
    await links.looked(link.id)
    const page = await sharedDashboard(database, registry, link.dashboardId, link.instrumentId)
    if (!page) throw new ProblemError('link-spent', 'What this address showed is no more.')
    const devices = await Promise.all(page.devices.map(({ address }) => tellDevice(address)))
    const shown = devices.map((device) => ({
      ...device,
      signals: device.signals.filter(({ id }) => link.signals.has(id)),
    }))
    const [place] = await database
      .select()
      .from(site)
      .where(eq(site.id, shown[0]?.siteId ?? 0))
    // Anew by the minute: a picture that is nowhere else than before is not sent again.
    const at = Math.ceil(now() / minute) * minute
    const { timeZone = 'UTC', lat = null, lon = null } = place ?? {}
    const notes = place
      ? await events.list({ from: at - month, to: at, kind: 'note', siteId: place.id }, allOf(place.id))
      : []
    const chapters = await shownPage(parts, page, shown, { timeZone, lat, lon, notes, now: at }, query)
    const heard = max(shown.map(({ heardAt }) => heardAt ?? 0)) ?? 0
    const clock = new Intl.DateTimeFormat('en-GB', {
      timeZone,
      weekday: 'short',
      hour: '2-digit',
      minute: '2-digit',
    })
    const { width, height, greys } = query
    const png = paperPicture(
      { title: link.name, aside: heard === 0 ? '' : clock.format(heard), chapters, width, height },
      greys,
    )
    const seconds = min(shown.flatMap(({ cadence }) => secondsOf(cadence?.cadence ?? null) ?? [])) ?? latest
    response.set({
      'Cache-Control': `private, max-age=${Math.round(Math.min(latest, Math.max(soonest, seconds)))}`,
      ETag: `"${createHash('sha256').update(png).digest('base64url').slice(0, 27)}"`,
    })
    return png
  })
}

/** Whoever has the link sees the notes of the site that are drawn on its page. */
const allOf = (siteId: number) => ({ everywhere: null, sites: [{ siteId, role: 'viewer' as const }] })
