import type { Arrival, Command } from '@jaunty-sparrow/contract'
import type { Reading } from '@jaunty-sparrow/core/signal'
import type { AlarmTest } from '../alarms/alarmTests.ts'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import type { LiveHub } from './hub.ts'
import type { LatestReadings } from './latestReadings.ts'
import { Peers, type PeersParts, readingsOf } from './peers.ts'

interface JoinParts extends Omit<PeersParts, 'heard' | 'listening'> {
  readonly registry: DeviceRegistry
  readonly hub: LiveHub
  readonly latest: LatestReadings
  /** Reads the latest reading of every signal. */
  readonly readLatest: () => Promise<Reading[]>
  /** Reads it anew, where readings were removed. */
  readonly reread: () => Promise<void>
  /** Told when another server has set or removed a serial line. */
  readonly serialChanged: () => Promise<void>
  /** Told when another server has changed who may do what. */
  readonly accessChanged: () => void
  /** Told of what another server took in. */
  readonly elsewhere: {
    readings(readings: readonly Reading[]): void
    arrived(arrivals: readonly Arrival[]): void
    commands(commands: readonly Command[]): void
    alarms(): void
    alarmTest(test: AlarmTest): void
  }
}

/**
 * Reads what there is, and from then on lets this server and others on the same database know of each other's devices and
 * readings.
 */
export async function joinPeers(parts: JoinParts): Promise<Peers> {
  const { registry, hub, latest, readLatest, reread, serialChanged, accessChanged, elsewhere, faults } = parts
  const reload = async (kitId?: number) => {
    await registry.load(kitId, 'elsewhere')
    if (kitId === undefined) hub.devicesChanged()
    else hub.kitChanged(kitId)
  }
  const where = 'what another server told'
  const peers = await Peers.join({
    ...parts,
    heard: (notice) => {
      if (notice.kind === 'loaded') faults.watch(where, reload(notice.kitId ?? undefined))
      if (notice.kind === 'forgotten') {
        registry.forget(notice.address, 'elsewhere')
        hub.deviceChanged(notice.address)
      }
      if (notice.kind === 'sites') hub.sitesChanged('elsewhere')
      if (notice.kind === 'dashboards') hub.dashboardsChanged('elsewhere')
      if (notice.kind === 'rules') hub.rulesChanged('elsewhere')
      if (notice.kind === 'alarms') {
        hub.alarmsChanged('elsewhere')
        elsewhere.alarms()
      }
      if (notice.kind === 'alarm-test') {
        elsewhere.alarmTest(notice.test)
        hub.alarmTest(notice.test, 'elsewhere')
      }
      if (notice.kind === 'notices') hub.noticesChanged('elsewhere')
      if (notice.kind === 'event') hub.event(notice.event, 'elsewhere')
      if (notice.kind === 'commands') {
        hub.commands(notice.commands, 'elsewhere')
        elsewhere.commands(notice.commands)
      }
      if (notice.kind === 'reread') faults.watch(where, reread())
      if (notice.kind === 'access') accessChanged()
      if (notice.kind === 'serial')
        faults.watch(
          where,
          serialChanged().then(() => hub.devicesChanged()),
        )
      if (notice.kind === 'readings') {
        const readings = readingsOf(notice)
        latest.take(readings)
        if (!notice.byHand) elsewhere.readings(readings)
        hub.readings(readings, notice.byHand, 'elsewhere')
      }
      if (notice.kind === 'arrivals') {
        elsewhere.arrived(notice.arrivals)
        hub.arrivedElsewhere(notice.arrivals, notice.skipped)
      }
    },
    listening: async () => {
      await reload()
      latest.take(await readLatest())
    },
  })
  registry.onChange((change, from) => from === 'here' && peers.tell(change))
  hub.onNews((news) => {
    if (news.kind === 'readings') peers.tellReadings(news.readings, news.byHand)
    if (news.kind === 'arrived') peers.tellArrival(news.message)
    // One by one: together they may be more than a notification holds.
    if (news.kind === 'commands')
      for (const each of news.commands) peers.tell({ kind: 'commands', commands: [each] })
    if (
      news.kind === 'sites' ||
      news.kind === 'dashboards' ||
      news.kind === 'rules' ||
      news.kind === 'alarms' ||
      news.kind === 'notices' ||
      news.kind === 'alarm-test' ||
      news.kind === 'event'
    )
      peers.tell(news)
  })
  return peers
}
