import type { AedesPublishPacket, Client, PublishPacket } from 'aedes'
import MemoryPersistence from 'aedes-persistence/asyncPersistence.js'

/** What one client that is away may be owed. */
const mostOwed = { packets: 100, bytes: 256 * 1024 }
/** What each device may leave to be told to whoever subscribes. */
const mostRetained = 50
const largestRetained = 4096
/** Messages with QoS 2 of one client that wait for their PUBREL. */
const mostTaken = 1000
/** Sessions of one device that outlive their connections, and what each client may subscribe to. */
const mostSessions = 20
const mostSubscriptions = 50

interface Subscription {
  readonly clientId: string
}

type Session = Pick<Client, 'id'>

/**
 * What the broker remembers for clients that are away: subscriptions, what they are owed, and retained messages. All of it is
 * bounded, as it is filled by whoever has a key.
 */
export class BrokerMemory extends MemoryPersistence {
  readonly #owed = new Map<string, { packets: number; bytes: number }>()
  /** Messages with QoS 2 that were taken, or are being, and not released by their client, by session. */
  readonly #taken = new Map<string, Set<number>>()
  /** What is retained, by the branch of its device. */
  readonly #retained = new Map<string, Set<string>>()
  /** The sessions of each device that outlive their connections, by its number, the one used last at the end. */
  readonly #sessions = new Map<number, Set<string>>()

  /** Why a message cannot be retained; undefined when it can. */
  whyNotRetained({ topic, payload }: Pick<PublishPacket, 'topic' | 'payload'>): string | undefined {
    if (payload.length > largestRetained) return `a retained message may have ${largestRetained} bytes`
    const there = this.#retained.get(branchOf(topic))
    const isFull = there !== undefined && !there.has(topic) && there.size >= mostRetained
    return isFull && payload.length > 0 ? `a device may have ${mostRetained} retained messages` : undefined
  }

  override async storeRetained(packet: AedesPublishPacket): Promise<void> {
    const branch = branchOf(packet.topic)
    const there = this.#retained.get(branch) ?? new Set()
    if (packet.payload.length > 0) this.#retained.set(branch, there.add(packet.topic))
    else if (there.delete(packet.topic) && there.size === 0) this.#retained.delete(branch)
    await super.storeRetained(packet)
  }

  /** Lets go of what a device left to be told. */
  async forgetRetained(address: string): Promise<void> {
    for (const topic of this.#retained.get(`sparrow/${address}`) ?? [])
      await this.storeRetained({ topic, payload: Buffer.alloc(0) } as AedesPublishPacket)
  }

  /** Takes up a session that outlives its connection; where a device has too many, the one unused for longest goes. */
  async openSession(device: number, { id }: Session): Promise<void> {
    const sessions = this.#sessions.get(device) ?? new Set()
    this.#sessions.set(device, sessions)
    sessions.delete(id)
    sessions.add(id)
    const [oldest] = sessions
    if (oldest === undefined || sessions.size <= mostSessions) return
    sessions.delete(oldest)
    await this.#endSession({ id: oldest } as Client)
  }

  async forgetSessions(device: number): Promise<void> {
    const sessions = this.#sessions.get(device) ?? []
    this.#sessions.delete(device)
    for (const id of sessions) await this.#endSession({ id } as Client)
  }

  async #endSession(session: Client): Promise<void> {
    await super.cleanSubscriptions(session)
    await this.cleanIncoming(session)
    for await (const packet of super.outgoingStream(session))
      await this.outgoingClearMessageId(session, packet)
  }

  override async addSubscriptions(client: Client, subscriptions: { topic: string }[]): Promise<void> {
    const there = await super.subscriptionsByClient(client)
    const topics = new Set([...there, ...subscriptions].map(({ topic }) => topic))
    if (topics.size > mostSubscriptions) throw new Error(`more than ${mostSubscriptions} subscriptions`)
    await super.addSubscriptions(client, subscriptions)
  }

  /** Whether a message with QoS 2 was taken already, and its sender does not know that yet. */
  hasTaken(client: Client, packet: PublishPacket): Promise<boolean> {
    return super.incomingGetPacket(client, packet).then(
      () => true,
      () => false,
    )
  }

  /** Makes room for one that is being taken. @throws when the client has never said of so many that it knows it */
  reserve(client: Client, packet: PublishPacket): void {
    const taken = this.#taken.get(client.id) ?? new Set()
    if (taken.size >= mostTaken) throw new Error(`${mostTaken} messages with QoS 2 wait for their PUBREL`)
    this.#taken.set(client.id, taken.add(packet.messageId ?? 0))
  }

  /** It could not be taken after all. */
  release(client: Client, packet: PublishPacket): void {
    this.#taken.get(client.id)?.delete(packet.messageId ?? 0)
  }

  /** Remembers of a message with QoS 2 that it was taken; what was in it is stored elsewhere. */
  override async incomingStorePacket(client: Client, packet: PublishPacket): Promise<void> {
    await super.incomingStorePacket(client, { ...packet, payload: Buffer.alloc(0) })
  }

  override async incomingDelPacket(client: Client, packet: PublishPacket): Promise<void> {
    this.release(client, packet)
    await super.incomingDelPacket(client, packet)
  }

  override async cleanIncoming(client: Client): Promise<void> {
    this.#taken.delete(client.id)
    await super.cleanIncoming(client)
  }

  override async outgoingEnqueue(subscription: Subscription, packet: AedesPublishPacket): Promise<void> {
    if (this.#owe(subscription, packet)) await super.outgoingEnqueue(subscription, packet)
  }

  override async outgoingEnqueueCombi(
    subscriptions: Subscription[],
    packet: AedesPublishPacket,
  ): Promise<void> {
    await super.outgoingEnqueueCombi(
      subscriptions.filter((subscription) => this.#owe(subscription, packet)),
      packet,
    )
  }

  override async outgoingClearMessageId(
    client: Client,
    packet: AedesPublishPacket,
  ): Promise<AedesPublishPacket | undefined> {
    const cleared = await super.outgoingClearMessageId(client, packet)
    const owed = this.#owed.get(client.id)
    if (cleared && owed) {
      owed.packets--
      owed.bytes -= lengthOf(cleared)
      if (owed.packets <= 0) this.#owed.delete(client.id)
    }
    return cleared
  }

  #owe({ clientId }: Subscription, packet: AedesPublishPacket): boolean {
    const owed = this.#owed.get(clientId) ?? { packets: 0, bytes: 0 }
    const bytes = lengthOf(packet)
    if (owed.packets >= mostOwed.packets || owed.bytes + bytes > mostOwed.bytes) return false
    owed.packets++
    owed.bytes += bytes
    this.#owed.set(clientId, owed)
    return true
  }
}

/** The branch of a device that a topic is in, as `sparrow/milk-vat`. */
const branchOf = (topic: string): string => topic.split('/', 2).join('/')

/** What waits for its end is told by its id alone, and has no payload any more. */
const lengthOf = ({ payload }: { readonly payload?: string | Buffer }): number => payload?.length ?? 0
