import type { Place } from '@jaunty-sparrow/contract'
import { readAlarmAddress } from '@jaunty-sparrow/core/alarm'
import { eq } from 'drizzle-orm'
import { uniq } from 'lodash-es'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import type { Places } from '../http/binder.ts'
import type { Database } from '../store/database.ts'
import {
  calibration,
  claim,
  dashboard,
  datedEvent,
  noticeWay,
  rereading,
  rule,
  shareLink,
  signalDefinition,
  site,
} from '../store/schema.ts'

type Named = { readonly params: Record<string, unknown>; readonly query: Record<string, unknown> }
type Find = (named: Named) => Promise<readonly number[] | undefined>

/** At which sites the things are that requests name. */
export class SitesOfThings implements Places {
  readonly #database: Database
  readonly #registry: DeviceRegistry

  constructor(database: Database, registry: DeviceRegistry) {
    this.#database = database
    this.#registry = registry
  }

  find(at: Place, named: Named): Promise<readonly number[] | undefined> {
    return this.#finders[at](named)
  }

  /** The site of a device; undefined where there is none such. */
  ofDevice(id: number): number | undefined {
    return this.#registry.byId(id)?.siteId
  }

  ofSignal(id: number): number | undefined {
    const address = this.#registry.signal(id)?.address
    return address === undefined ? undefined : this.#registry.get(address)?.siteId
  }

  ofAddress(address: string): number | undefined {
    return this.#registry.get(address)?.siteId
  }

  /** The sites of all devices that are made of a kit. */
  ofKit(kitId: number): readonly number[] {
    return uniq([...this.#registry.all()].flatMap((device) => (device.kitId === kitId ? device.siteId : [])))
  }

  readonly #finders: Record<Place, Find> = {
    everywhere: async () => [],
    somewhere: async () => [],
    body: async () => [],
    site: async ({ params }) => {
      const [found] = await this.#database
        .select({ id: site.id })
        .from(site)
        .where(eq(site.id, Number(params.siteId)))
      return found && [found.id]
    },
    device: async ({ params }) => one(this.#registry.get(String(params.address))?.siteId),
    signal: async ({ params }) => one(this.ofSignal(Number(params.signalId))),
    // What nobody knows of has no readings, and its answer says so.
    signals: async ({ query }) =>
      uniq(
        String(query.signals)
          .split(',')
          .flatMap((id) => this.ofSignal(Number(id)) ?? []),
      ),
    kit: async ({ params }) => this.ofKit(Number(params.kitId)),
    definition: async ({ params }) => {
      const [found] = await this.#database
        .select({ kitId: signalDefinition.kitId })
        .from(signalDefinition)
        .where(eq(signalDefinition.id, Number(params.definitionId)))
      return found && this.ofKit(found.kitId)
    },
    calibration: async ({ params }) => {
      const [found] = await this.#database
        .select({ signalId: calibration.signalId })
        .from(calibration)
        .where(eq(calibration.id, Number(params.calibrationId)))
      return found && one(this.ofSignal(found.signalId))
    },
    claim: async ({ params }) => {
      const [found] = await this.#database
        .select({ keyId: claim.keyId })
        .from(claim)
        .where(eq(claim.id, Number(params.claimId)))
      return found && one(this.ofDevice(found.keyId))
    },
    rereading: async ({ params }) => {
      const [found] = await this.#database
        .select({ deviceId: rereading.deviceId })
        .from(rereading)
        .where(eq(rereading.id, Number(params.rereadingId)))
      return found && one(this.ofDevice(found.deviceId))
    },
    dashboard: async ({ params }) => {
      const [found] = await this.#database
        .select({ siteId: dashboard.siteId })
        .from(dashboard)
        .where(eq(dashboard.id, Number(params.dashboardId)))
      return found && [found.siteId]
    },
    event: async ({ params }) => {
      const [found] = await this.#database
        .select({ siteId: datedEvent.siteId })
        .from(datedEvent)
        .where(eq(datedEvent.id, Number(params.eventId)))
      return one(found?.siteId ?? undefined)
    },
    rule: async ({ params }) => {
      const [found] = await this.#database
        .select({ signalId: rule.signalId })
        .from(rule)
        .where(eq(rule.id, Number(params.ruleId)))
      return found && one(this.ofSignal(found.signalId))
    },
    alarm: async ({ params }) => {
      const named = readAlarmAddress(String(params.alarmId))
      if (named?.of === 'signal') return one(this.ofSignal(named.signal))
      if (named?.of === 'device') return one(this.ofDevice(named.device))
      // What is of the server concerns every site.
      const all = await this.#database.select({ id: site.id }).from(site)
      return named && all.map(({ id }) => id)
    },
    way: async ({ params }) => {
      const [found] = await this.#database
        .select({ siteId: noticeWay.siteId })
        .from(noticeWay)
        .where(eq(noticeWay.id, Number(params.wayId)))
      if (!found || found.siteId !== null) return found && one(found.siteId ?? undefined)
      // One that tells of all sites concerns every one.
      const all = await this.#database.select({ id: site.id }).from(site)
      return all.map(({ id }) => id)
    },
    share: async ({ params }) => {
      const [found] = await this.#database
        .select({ deviceId: shareLink.deviceId, ofDashboard: dashboard.siteId })
        .from(shareLink)
        .leftJoin(dashboard, eq(dashboard.id, shareLink.dashboardId))
        .where(eq(shareLink.id, Number(params.linkId)))
      return (
        found &&
        one(found.deviceId === null ? (found.ofDashboard ?? undefined) : this.ofDevice(found.deviceId))
      )
    },
  }
}

const one = (siteId: number | undefined): readonly number[] | undefined =>
  siteId === undefined ? undefined : [siteId]
