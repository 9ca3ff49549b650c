import type { SharedPage } from '@jaunty-sparrow/contract'
import { resolve, type StandingDevice, type StandingSignal } from '@jaunty-sparrow/core/dashboard'
import type { SignalDefinition } from '@jaunty-sparrow/core/signal'
import { instrumentOf, proposed } from '@jaunty-sparrow/drawings/registry'
import { eq } from 'drizzle-orm'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import type { Database } from '../store/database.ts'
import { dashboard } from '../store/schema.ts'

type Standing = StandingSignal &
  Pick<SignalDefinition, 'kind' | 'origin' | 'unit' | 'range' | 'shown' | 'limits' | 'bands'>

/**
 * What a dashboard shows to strangers: it, or one instrument of it, and of the devices at its site no more than is on it.
 * @returns undefined where it is no more
 */
export async function sharedDashboard(
  database: Database,
  registry: DeviceRegistry,
  dashboardId: number,
  instrumentId: string | null,
): Promise<SharedPage['dashboard'] | undefined> {
  const [row] = await database.select().from(dashboard).where(eq(dashboard.id, dashboardId))
  if (!row) return undefined
  const { siteId } = row
  const shows =
    instrumentId === null
      ? row.shows
      : {
          chapters: row.shows.chapters.flatMap((chapter) => {
            const instruments = chapter.instruments?.filter(({ id }) => id === instrumentId) ?? []
            return instruments.length > 0 ? [{ ...chapter, instruments, phone: null }] : []
          }),
        }
  const there = [...registry.all()].filter((device) => device.siteId === siteId)
  const standing = there.map(
    (device): StandingDevice<Standing> => ({
      id: device.id,
      name: device.name,
      address: device.address,
      siteId,
      kit: { id: device.kitId },
      signals: [...device.signals].map(({ signal, part, definition, isFormer = false }) => ({
        ...definition,
        id: signal,
        definitionId: definition.id,
        part,
        partName: part,
        isFormer,
      })),
    }),
  )
  const resolved = resolve(shows, standing, {
    propose: proposed,
    most: (kind) => instrumentOf(kind)?.takes.most ?? 1,
  })
  const shown = new Set(
    resolved.flatMap(({ instruments }) => instruments.flatMap(({ signals }) => signals.map(({ id }) => id))),
  )
  const devices = standing.flatMap(({ signals, ...device }) => {
    const own = signals.map(({ id }) => id).filter((id) => shown.has(id))
    return own.length > 0 ? [{ ...device, signals: own }] : []
  })
  return { shows, devices }
}
