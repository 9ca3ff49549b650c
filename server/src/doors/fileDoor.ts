import { routes } from '@jaunty-sparrow/contract'
import { eq } from 'drizzle-orm'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import { knownDevice } from '../devices/knownDevice.ts'
import type { RegisteredDevice } from '../devices/registeredDevice.ts'
import type { Binder } from '../http/binder.ts'
import { ProblemError } from '../http/problemResponse.ts'
import { isTimeZone } from '../http/timeZone.ts'
import type { StraightWay } from '../ingest/straightWay.ts'
import type { Database } from '../store/database.ts'
import { device, site } from '../store/schema.ts'
import { storeWholeFile } from './wholeFile.ts'

/** Of a long list of refusals the first ones tell the story. */
const mostRefusedListed = 100

interface FileDoorParts {
  readonly binder: Binder
  readonly registry: DeviceRegistry
  readonly straightWay: StraightWay
  readonly now: () => number
  readonly database: Database
}

/** The door for files: a person brings what a device recorded, piece by piece. */
export function bindFileDoor({ binder, registry, straightWay, now, database }: FileDoorParts): void {
  const store = (known: RegisteredDevice, mediaType: string, text: string) =>
    straightWay.receive(known, {
      door: 'file',
      byHand: true,
      mediaType,
      tail: '',
      topic: '',
      body: Buffer.from(text),
      receivedAt: now(),
    })

  binder.bind(routes.storeFile, async ({ params, query, request }) => {
    const known = knownDevice(registry, params.address)
    if (query.zone !== undefined && !isTimeZone(query.zone) && !/^[+-]\d\d:\d\d$/.test(query.zone))
      throw new ProblemError('invalid', `There is no time zone "${query.zone}".`)
    const [row] = await database
      .select({ zone: site.timeZone })
      .from(device)
      .innerJoin(site, eq(site.id, device.siteId))
      .where(eq(device.id, known.id))
    return storeWholeFile({
      device: known,
      chunks: request,
      stated: query,
      zone: row?.zone ?? 'UTC',
      store: (mediaType, text) => store(registry.present(known), mediaType, text),
    })
  })

  binder.bind(routes.importFile, async ({ params, body }) => {
    const outcome = await store(knownDevice(registry, params.address), body.mediaType, body.text)
    if (outcome.kind === 'stored') {
      const { stored, fresh, refused } = outcome
      const listed = refused.slice(0, mostRefusedListed)
      return { stored: fresh, alreadyThere: stored - fresh, refused: listed, refusedTotal: refused.length }
    }
    if (outcome.kind === 'refused' && outcome.refused.length > 0) {
      const { refused } = outcome
      const listed = refused.slice(0, mostRefusedListed)
      return { stored: 0, alreadyThere: 0, refused: listed, refusedTotal: refused.length }
    }
    throw new ProblemError(
      'invalid',
      outcome.kind === 'refused' ? outcome.detail : 'The piece was not taken.',
    )
  })
}
