import type { Reading } from '@jaunty-sparrow/core/signal'
import max from 'lodash-es/max.js'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import type { EventStore } from '../events/eventStore.ts'
import type { Faults } from '../life/faults.ts'
import type { Heartbeat } from '../life/heartbeat.ts'
import type { Opened } from '../life/opened.ts'
import type { LiveHub } from '../live/hub.ts'
import { PresenceKeeper } from './presenceKeeper.ts'
import type { Heard } from './readHeard.ts'

interface OpenParts {
  readonly registry: DeviceRegistry
  readonly heard: Heard
  /** When devices were shut down, epoch ms. */
  readonly down: ReadonlyMap<number, number>
  readonly latest: { of(signal: number): Reading | undefined }
  /** When devices spoke last, epoch ms, oldest first. */
  readonly lastArrivals: ReadonlyMap<number, readonly number[]>
  readonly heartbeat: Heartbeat
  readonly events: EventStore
  readonly hub: LiveHub
  readonly faults: Faults
  readonly serverName: string
  readonly now: () => number
  readonly opened: Opened
}

/** A shorter time without a server is a restart that nobody needs to hear of, ms; heartbeats come once a minute. */
const shortestAway = 3 * 60_000

/** Takes up how devices did before this server was there, and writes down when they drop out. */
export async function openPresence(parts: OpenParts): Promise<PresenceKeeper> {
  const { registry, heard, down, latest, lastArrivals, heartbeat, events, hub } = parts
  const { faults, serverName, now, opened } = parts
  const devices = new Map(heard.devices)
  for (const [device, instants] of lastArrivals)
    devices.set(device, max([devices.get(device) ?? 0, ...instants]) ?? 0)
  const signals = new Map(heard.signals)
  for (const device of registry.all()) {
    for (const { signal } of device.signals) {
      const reading = latest.of(signal)
      if (reading && !signals.has(signal)) signals.set(signal, reading.receivedAt)
    }
  }
  const silent = new Set((await events.openDropOuts()).keys())
  const aliveAt = await heartbeat.anyAliveAt()
  const at = now()
  const wasAway = aliveAt !== null && at - aliveAt > shortestAway
  if (wasAway) {
    const says = 'No server was there; nothing is known of devices.'
    await events.write({ kind: 'server-away', at: aliveAt, until: at, server: serverName, says })
  }
  const keeper = new PresenceKeeper(
    {
      registry,
      now,
      changed: (told) => hub.presences(told),
      silent: ({ id, siteId }, heardAt) =>
        faults.watch(
          'a drop-out',
          events.write({ kind: 'drop-out', at: heardAt, deviceId: id, siteId, says: 'It was not heard.' }),
        ),
      back: ({ id }, heardAt) => faults.watch('a drop-out', events.endDropOut(id, heardAt)),
    },
    // Another server that was there all along has heard whoever spoke.
    { devices, signals, silent, down, awayUntil: aliveAt === null || at - aliveAt > otherAlive ? at : null },
  )
  registry.onDeleted((device) => keeper.forget(device))
  opened.add(
    setInterval(
      faults.guard('presence', () => keeper.look()),
      lookEvery,
    ),
    clearInterval,
  )
  return keeper
}

/** How often is looked who does otherwise than before, ms. */
const lookEvery = 1000

/** Another server that lived within this time was there, ms. */
const otherAlive = 2 * 60_000
