import type { LiveClient } from './liveClient.ts'

/** Who looks at the page of which device just now, at this server; each is told when the number changes. */
export class Lookers {
  readonly #byDevice = new Map<number, Set<LiveClient>>()
  readonly #deviceOf = new Map<LiveClient, number>()
  readonly #strangers = new WeakSet<LiveClient>()

  /** @param device null for none any more */
  look(client: LiveClient, device: number | null, isStranger: boolean): void {
    if (this.#deviceOf.get(client) === device) return
    this.leave(client)
    if (device === null) return
    if (isStranger) this.#strangers.add(client)
    this.#byDevice.set(device, (this.#byDevice.get(device) ?? new Set()).add(client))
    this.#deviceOf.set(client, device)
    this.#tell(device)
  }

  leave(client: LiveClient): void {
    const device = this.#deviceOf.get(client)
    if (device === undefined) return
    this.#deviceOf.delete(client)
    const clients = this.#byDevice.get(device)
    clients?.delete(client)
    if (clients?.size === 0) this.#byDevice.delete(device)
    else this.#tell(device)
  }

  #tell(device: number): void {
    const clients = [...(this.#byDevice.get(device) ?? [])]
    const strangers = clients.filter((client) => this.#strangers.has(client)).length
    for (const client of clients) client.looking({ device, people: clients.length - strangers, strangers })
  }
}
