import { matchTopic } from '@jaunty-sparrow/core/claim'
import type { Client } from 'aedes'

/** A device with more connections than this has old ones that nobody closed; the one that was silent for longest goes. */
const mostConnections = 5

/** The broker keeps with a client what it listens to, and does not say so in its types. */
type Subscribed = Client & { readonly subscriptions: Readonly<Record<string, unknown>> }

/** Who a client is, and when it was heard last, epoch ms. */
interface Known {
  readonly address: string
  heardAt: number
}

/** The connections of each device over MQTT, from the moment it has proved who it is until they end. */
export class DeviceConnections {
  readonly #known = new WeakMap<Client, Known>()
  readonly #byAddress = new Map<string, Set<Client>>()

  /** Counts a connection as long as it lasts, and ends another where there are too many. */
  letIn(client: Client, address: string, now: number): void {
    this.#known.set(client, { address, heardAt: now })
    const clients = this.#byAddress.get(address) ?? new Set()
    if (client.conn.destroyed) return
    if (clients.size >= mostConnections) {
      const [silent] = [...clients].sort((a, b) => this.#heardAt(a) - this.#heardAt(b))
      silent?.close()
      if (silent) clients.delete(silent)
    }
    this.#byAddress.set(address, clients.add(client))
    client.conn.once('close', () => {
      clients.delete(client)
      if (clients.size === 0 && this.#byAddress.get(address) === clients) this.#byAddress.delete(address)
    })
  }

  /** Whose a client is; it has no address before it has authenticated. */
  addressOf(client: Client): string {
    return this.#known.get(client)?.address ?? ''
  }

  /** Takes note that a client was heard. @returns whose it is */
  heard(client: Client, now: number): string {
    const known = this.#known.get(client)
    if (known) known.heardAt = now
    return known?.address ?? ''
  }

  /** Whether a device listens to a topic just now. */
  hears(address: string, topic: string): boolean {
    return [...(this.#byAddress.get(address) ?? [])].some((client) =>
      Object.keys((client as Subscribed).subscriptions).some(
        (filter) => matchTopic(filter, topic) !== undefined,
      ),
    )
  }

  /** Ends all connections of a device. */
  end(address: string): void {
    for (const client of this.#byAddress.get(address) ?? []) client.close()
  }

  #heardAt(client: Client): number {
    return this.#known.get(client)?.heardAt ?? 0
  }
}
