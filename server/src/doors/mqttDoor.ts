import type { IncomingMessage } from 'node:http'
import { createServer, type Server, type Socket } from 'node:net'
import type { Duplex } from 'node:stream'
import { setTimeout as pause } from 'node:timers/promises'
import { largestMessage } from '@jaunty-sparrow/core'
import { Aedes, type AuthenticateError, type Client, type PublishPacket } from 'aedes'
import type { Logger } from 'pino'
import { createWebSocketStream, WebSocketServer } from 'ws'
import type { RefusalRecorder } from '../arrivals/recorder.ts'
import type { DeviceRegistry } from '../ingest/deviceRegistry.ts'
import type { StraightWay } from '../ingest/straightWay.ts'
import { matchesHash } from '../people/token.ts'
import { isBelow, mayPublish, mqttMessage } from './mqttMessage.ts'

/** A device that connects more often than this is one whose old connections nobody closed, or a copied secret. */
const mostConnections = 5

/** A client whose message could not be stored is let go after this rest, ms, so that it does not come back in a storm. */
const restBeforeLettingGo = 2000

const notAuthorized = 5
const badCredential = 4

interface MqttDoorParts {
  readonly registry: DeviceRegistry
  readonly straightWay: StraightWay
  readonly recorder: RefusalRecorder
  readonly now: () => number
  readonly log: Logger
}

/**
 * The MQTT door (3.1.1, over TCP and WebSocket): `sparrow/<address>/in` and `sparrow/<address>/in/<field>`. A PUBACK goes
 * out after the commit; while the store is away there is none, and the client sends again.
 */
export class MqttDoor {
  readonly #parts: MqttDoorParts
  readonly #broker: Aedes
  readonly #tcp: Server
  readonly #webSockets = new WebSocketServer({
    noServer: true,
    maxPayload: largestMessage + 1024,
    perMessageDeflate: false,
    handleProtocols: (protocols) => (protocols.has('mqtt') ? 'mqtt' : false),
  })
  /** The connections of each device, by its address. */
  readonly #clients = new Map<string, Set<Client>>()

  private constructor(parts: MqttDoorParts, broker: Aedes) {
    this.#parts = parts
    this.#broker = broker
    this.#tcp = createServer((socket: Socket) => broker.handle(socket))
    broker.authenticate = (client, username, password, done) => {
      const refused = this.#authenticate(client, username ?? '', String(password ?? ''))
      done(refused ?? null, refused === undefined)
    }
    broker.authorizePublish = (client, packet, done) => {
      if (client) void this.#publish(client, packet).then(() => done(null), done)
      else done(null)
    }
    broker.authorizeSubscribe = (client, subscription, done) => {
      done(null, isBelow(addressOf(client), subscription.topic) ? subscription : null)
    }
    broker.on('clientDisconnect', (client) => this.#clients.get(addressOf(client))?.delete(client))
    broker.on('clientError', (client, error) =>
      parts.log.debug({ err: error, address: addressOf(client) }, 'MQTT client'),
    )
    broker.on('connectionError', (_client, error) => parts.log.debug({ err: error }, 'MQTT connection'))
    parts.registry.onRevoked((address) => this.#disconnect(address))
  }

  static async open(parts: MqttDoorParts): Promise<MqttDoor> {
    return new MqttDoor(parts, await Aedes.createBroker({ concurrency: 200, drainTimeout: 30_000 }))
  }

  /** Listens for TCP. @returns the port @throws EADDRINUSE and its like */
  listen(port: number, host: string): Promise<number> {
    return new Promise((resolve, reject) => {
      this.#tcp.once('error', reject)
      this.#tcp.listen(port, host, () => {
        const address = this.#tcp.address()
        resolve(address !== null && typeof address === 'object' ? address.port : port)
      })
    })
  }

  /** Takes over a WebSocket connection to `/mqtt`. */
  upgrade(request: IncomingMessage, socket: Duplex, head: Buffer): void {
    this.#webSockets.handleUpgrade(request, socket, head, (webSocket) => {
      const stream = createWebSocketStream(webSocket)
      stream.on('error', () => stream.destroy())
      this.#broker.handle(stream, request)
    })
  }

  async close(): Promise<void> {
    this.#tcp.close()
    await new Promise<void>((closed) => this.#broker.close(() => closed()))
  }

  /** @returns what to answer when this client may not come in */
  #authenticate(client: Client, address: string, secret: string): AuthenticateError | undefined {
    const device = this.#parts.registry.get(address)
    if (!device)
      return this.#refuse(address, badCredential, `No device has the address "${address.slice(0, 60)}" here.`)
    if (!matchesHash(secret, device.secretHash)) {
      return this.#refuse(address, badCredential, `The secret is not the one of "${address}".`)
    }
    const clients = this.#clients.get(address) ?? new Set()
    if (clients.size >= mostConnections) {
      return this.#refuse(address, notAuthorized, `"${address}" has ${mostConnections} connections already.`)
    }
    this.#clients.set(address, clients.add(client))
    addresses.set(client, address)
    return undefined
  }

  #refuse(address: string, returnCode: number, reason: string): AuthenticateError {
    this.#record(address, null, {}, new Uint8Array(), reason)
    return Object.assign(new Error(reason), { returnCode })
  }

  /**
   * Resolves when the message may be acknowledged. One that cannot be understood is acknowledged too, as sending it again
   * would not mend it; Arrivals says what was wrong.
   */
  async #publish(client: Client, { topic, payload }: PublishPacket): Promise<void> {
    const address = addressOf(client)
    const device = this.#parts.registry.get(address)
    const body = typeof payload === 'string' ? Buffer.from(payload) : payload
    if (!device || !mayPublish(device, topic)) {
      const reason = `"${address}" may publish below sparrow/${address}/ only, not to ${topic.slice(0, 100)}; the connection was closed.`
      this.#record(address, device?.id ?? null, { topic }, body, reason)
      throw new Error(reason)
    }
    const message = mqttMessage(address, topic, body, this.#parts.now())
    if (!message) return
    if (body.length > largestMessage) {
      this.#record(
        address,
        device.id,
        {},
        new Uint8Array(),
        `The payload is larger than ${largestMessage / 1024} KiB.`,
      )
      return
    }
    try {
      await this.#parts.straightWay.receive(device, message)
    } catch (error) {
      this.#parts.log.warn({ err: error, address }, 'a message was not acknowledged: it could not be stored')
      await pause(restBeforeLettingGo)
      throw error
    }
  }

  #record(
    sender: string,
    deviceId: number | null,
    { topic = '' }: { topic?: string },
    body: Uint8Array,
    reason: string,
  ): void {
    const receivedAt = this.#parts.now()
    const mediaType = 'application/octet-stream'
    this.#parts.recorder.record({
      door: 'mqtt',
      receivedAt,
      deviceId,
      sender,
      mediaType,
      tail: '',
      topic,
      body,
      outcome: 'refused',
      reason,
    })
  }

  #disconnect(address: string): void {
    for (const client of this.#clients.get(address) ?? []) client.close()
  }
}

/** Who a client is; it has no address before it has authenticated. */
const addresses = new WeakMap<Client, string>()
const addressOf = (client: Client): string => addresses.get(client) ?? ''
