import { type ResponseOf, routes } from '@jaunty-sparrow/contract'
import { type SignalSettings, usualSettings } from '@jaunty-sparrow/core/signal'
import { and, asc, inArray, isNull, or } from 'drizzle-orm'
import { keyBy } from 'lodash-es'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import type { Binder } from '../http/binder.ts'
import type { Database } from '../store/database.ts'
import { descriptionVersion, signal } from '../store/schema.ts'

export interface DescriptionsAtParts {
  readonly binder: Binder
  readonly database: Database
  readonly registry: DeviceRegistry
}

/** What was said of signals at an instant, so that the past is drawn with the limits it had. */
export function bindDescriptionsAt({ binder, database, registry }: DescriptionsAtParts): void {
  binder.bind(routes.getDescriptionsAt, async ({ query: { signals, at } }) => {
    const ids = signals.split(',').map(Number)
    const rows = await database.select().from(signal).where(inArray(signal.id, ids))
    const versions = await database
      .select()
      .from(descriptionVersion)
      .where(
        or(
          and(
            isNull(descriptionVersion.signalId),
            inArray(
              descriptionVersion.definitionId,
              rows.map(({ definitionId }) => definitionId),
            ),
          ),
          inArray(descriptionVersion.signalId, ids),
        ),
      )
      .orderBy(asc(descriptionVersion.validFrom), asc(descriptionVersion.id))
    /** The last one that held then; before the first one was written down nobody knows better than that. */
    const heldThen = (of: typeof versions) =>
      of.findLast(({ validFrom }) => validFrom.getTime() <= at) ?? of[0]
    const known = keyBy(
      [...registry.all()].flatMap((device) => [...device.signals]),
      'signal',
    )
    return rows.map(({ id, definitionId }): ResponseOf<typeof routes.getDescriptionsAt>[number] => {
      const ofKit = heldThen(
        versions.filter((each) => each.signalId === null && each.definitionId === definitionId),
      )
      const ofDevice = versions.findLast((each) => each.signalId === id && each.validFrom.getTime() <= at)
      const { limits, bands, range, shown } = ofKit
        ? {
            ...usualSettings,
            ...(ofKit.described as { settings: Partial<SignalSettings> }).settings,
            ...(ofDevice?.described as Partial<SignalSettings> | undefined),
          }
        : (known[id]?.definition ?? usualSettings)
      return { signal: id, limits, bands: [...bands], range, shown }
    })
  })
}
