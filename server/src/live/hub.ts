import type { Arrival, Changed, Command, DatedEvent, DevicePresence } from '@jaunty-sparrow/contract'
import type { Reading } from '@jaunty-sparrow/core/signal'
import type { AlarmTest } from '../alarms/alarmTests.ts'
import type { Origin } from '../devices/deviceRegistry.ts'
import { arrivalOf, type KeptMessage } from '../messages/keptMessage.ts'
import type { LiveClient } from './liveClient.ts'

/** What a server tells the others on the same database. */
type News =
  | { readonly kind: 'readings'; readonly readings: readonly Reading[]; readonly byHand: boolean }
  | { readonly kind: 'arrived'; readonly message: KeptMessage }
  | { readonly kind: 'sites' | 'dashboards' | 'rules' | 'alarms' | 'notices' }
  | { readonly kind: 'event'; readonly event: DatedEvent }
  | { readonly kind: 'commands'; readonly commands: readonly Command[] }
  | { readonly kind: 'alarm-test'; readonly test: AlarmTest }

interface HubParts {
  /** ms, only running forward. */
  readonly clock: () => number
  /** A reading as it goes out: corrected. */
  readonly outward: (reading: Reading) => Reading
}

/** Tells the pages what they look at. A reading goes to those that look at its signal, and to nobody else. */
export class LiveHub {
  readonly #parts: HubParts
  readonly #clients = new Set<LiveClient>()
  readonly #bySignal = new Map<number, Set<LiveClient>>()
  readonly #newsListeners: ((news: News) => void)[] = []

  constructor(parts: HubParts) {
    this.#parts = parts
  }

  /** Calls back with what other servers on the same database have to hear of. */
  onNews(listener: (news: News) => void): void {
    this.#newsListeners.push(listener)
  }

  /** @param byHand whether a person brought them, from the past */
  readings(readings: readonly Reading[], byHand = false, from: Origin = 'here'): void {
    this.#tell({ kind: 'readings', readings, byHand }, from)
    for (const reading of readings) {
      const clients = this.#bySignal.get(reading.signal)
      if (!clients) continue
      const outward = this.#parts.outward(reading)
      for (const client of clients) client.add(outward)
    }
    // A page that has rested hears at once; the others when their rest is over.
    this.flush()
  }

  arrived(message: KeptMessage): void {
    this.#tell({ kind: 'arrived', message }, 'here')
    for (const client of this.#clients) if (client.seesArrivals) client.arrived([arrivalOf(message)], 0)
  }

  /** What another server took in, as far as it was told. */
  arrivedElsewhere(arrivals: readonly Arrival[], skipped: number): void {
    for (const client of this.#clients) client.arrived(arrivals, skipped)
  }

  presences(devices: readonly DevicePresence[]): void {
    for (const client of this.#clients) client.presences(devices)
  }

  event(event: DatedEvent, from: Origin = 'here'): void {
    this.#tell({ kind: 'event', event }, from)
    for (const client of this.#clients) client.event(event)
  }

  /** Commands that are otherwise than they were; nobody waits for a frame with them. */
  commands(commands: readonly Command[], from: Origin = 'here'): void {
    this.#tell({ kind: 'commands', commands }, from)
    for (const client of this.#clients) client.commands(commands)
  }

  /** A device came, went, or is otherwise than it was. */
  deviceChanged(address: string): void {
    this.#changed({ what: 'device', address })
  }

  kitChanged(kitId: number): void {
    this.#changed({ what: 'kit', kitId })
  }

  /** Nobody knows which: all are asked for again. */
  devicesChanged(): void {
    this.#changed({ what: 'devices' })
  }

  sitesChanged(from: Origin = 'here'): void {
    this.#tell({ kind: 'sites' }, from)
    this.#changed({ what: 'sites' })
  }

  dashboardsChanged(from: Origin = 'here'): void {
    this.#tell({ kind: 'dashboards' }, from)
    this.#changed({ what: 'dashboards' })
  }

  rulesChanged(from: Origin = 'here'): void {
    this.#tell({ kind: 'rules' }, from)
    this.#changed({ what: 'rules' })
  }

  alarmsChanged(from: Origin = 'here'): void {
    this.#tell({ kind: 'alarms' }, from)
    this.#changed({ what: 'alarms' })
  }

  /** A board or walls are tried: who looks at alarms looks again. */
  alarmTest(test: AlarmTest, from: Origin = 'here'): void {
    this.#tell({ kind: 'alarm-test', test }, from)
    this.#changed({ what: 'alarms' })
  }

  noticesChanged(from: Origin = 'here'): void {
    this.#tell({ kind: 'notices' }, from)
    this.#changed({ what: 'notices' })
  }

  join(client: LiveClient): void {
    this.#clients.add(client)
  }

  leave(client: LiveClient): void {
    this.#clients.delete(client)
    this.unsubscribe(client, [...client.subscriptions])
  }

  /** @param latest the latest readings of these signals */
  subscribe(client: LiveClient, signals: readonly number[], latest: readonly Reading[], now: number): void {
    for (const signal of signals) {
      const clients = this.#bySignal.get(signal) ?? new Set()
      this.#bySignal.set(signal, clients.add(client))
    }
    client.subscribe(signals, latest.map(this.#parts.outward), now)
  }

  unsubscribe(client: LiveClient, signals: readonly number[]): void {
    client.unsubscribe(signals)
    for (const signal of signals) {
      const clients = this.#bySignal.get(signal)
      if (clients?.delete(client) && clients.size === 0) this.#bySignal.delete(signal)
    }
  }

  /** Lets go of signals that pages may not look at any more: their device went to another site. */
  dropUnseen(): void {
    for (const client of this.#clients) {
      const unseen = [...client.subscriptions].filter((signal) => !client.sight.signal(signal))
      if (unseen.length > 0) this.unsubscribe(client, unseen)
    }
  }

  flush(): void {
    const now = this.#parts.clock()
    for (const client of this.#clients) client.flush(now)
  }

  #changed(change: Changed): void {
    for (const client of this.#clients) client.changed(change)
  }

  #tell(news: News, from: Origin): void {
    if (from === 'here') for (const listener of this.#newsListeners) listener(news)
  }
}
