import { routes } from '@jaunty-sparrow/contract'
import { nights } from '@jaunty-sparrow/core/sun'
import { eq } from 'drizzle-orm'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import type { EventStore } from '../events/eventStore.ts'
import type { Binder } from '../http/binder.ts'
import { ProblemError } from '../http/problemResponse.ts'
import type { Database } from '../store/database.ts'
import { site } from '../store/schema.ts'
import { type DayReader, slot } from './dayReader.ts'

export interface StripParts {
  readonly binder: Binder
  readonly database: Database
  readonly registry: DeviceRegistry
  readonly events: EventStore
  readonly days: DayReader
}

/** A day of a site, for the strip along the top of every page. */
export function bindStrip({ binder, database, registry, events, days }: StripParts): void {
  binder.bind(routes.getSiteDay, async ({ params: { siteId }, query, caller }) => {
    const [place] = await database
      .select({ lat: site.lat, lon: site.lon })
      .from(site)
      .where(eq(site.id, siteId))
    if (!place) throw new ProblemError('not-found', 'There is no such site.')
    const signals = new Map(
      [...registry.all()]
        .filter((device) => device.siteId === siteId)
        .flatMap((device) =>
          Array.from(device.signals, ({ signal, definition }) => [signal, definition.kind] as const),
        ),
    )
    const { from, to, came } = await days.read(siteId, signals, query.to)
    const dropOuts = await events.list({ from, to, siteId, kind: 'drop-out' }, caller.access)
    const { lat, lon } = place
    const dark = lat === null || lon === null ? [] : nights(from, to, { lat, lon })
    return {
      from,
      to,
      slot,
      came: [...came],
      dropOuts,
      nights: dark.map((night): [number, number] => [night.from, night.to]),
    }
  })
}
