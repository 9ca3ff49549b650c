// The package states the types of its module that keeps everything in memory where the compiler does not look for them.
declare module 'aedes-persistence/asyncPersistence.js' {
  import type { Readable } from 'node:stream'
  import type { AedesPublishPacket, Client, PublishPacket } from 'aedes'

  export default class MemoryPersistence {
    storeRetained(packet: AedesPublishPacket): Promise<void>
    addSubscriptions(client: Client, subscriptions: { topic: string }[]): Promise<void>
    subscriptionsByClient(client: Client): Promise<{ topic: string }[]>
    cleanSubscriptions(client: Client): Promise<void>
    outgoingEnqueue(subscription: { clientId: string }, packet: AedesPublishPacket): Promise<void>
    outgoingEnqueueCombi(subscriptions: { clientId: string }[], packet: AedesPublishPacket): Promise<void>
    outgoingClearMessageId(
      client: Client,
      packet: AedesPublishPacket,
    ): Promise<AedesPublishPacket | undefined>
    outgoingStream(client: Client): Readable
    incomingStorePacket(client: Client, packet: PublishPacket): Promise<void>
    incomingDelPacket(client: Client, packet: PublishPacket): Promise<void>
    incomingGetPacket(client: Client, packet: PublishPacket): Promise<PublishPacket>
    cleanIncoming(client: Client): Promise<void>
  }
}
