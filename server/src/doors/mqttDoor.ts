import type { IncomingMessage } from 'node:http'
import { createServer, type Server, type Socket } from 'node:net'
import type { Duplex } from 'node:stream'
import { setTimeout as pause } from 'node:timers/promises'
import { createServer as createTlsServer } from 'node:tls'
import { largestMessage } from '@jaunty-sparrow/core/device'
import { isLoopback } from '@jaunty-sparrow/core/reach'
import { presentable } from '@jaunty-sparrow/core/text'
import {
  Aedes,
  type AedesPublishPacket,
  type AuthenticateError,
  type Client,
  type PublishPacket,
} from 'aedes'
import { createWebSocketStream, WebSocketServer } from 'ws'
import type { Commands } from '../commands/commands.ts'
import type { RegisteredDevice } from '../devices/registeredDevice.ts'
import { Overloaded } from '../ingest/groupCommit.ts'
import type { Patience } from '../ingest/patience.ts'
import type { ReceivedMessage } from '../ingest/receivedMessage.ts'
import type { Certificates } from '../reach/certificates.ts'
import { BrokerMemory } from './brokerMemory.ts'
import { ConnectionLimit } from './connectionLimit.ts'
import { DeviceConnections } from './deviceConnections.ts'
import { admit, type DoorKit, type TurnedAway, turnAway } from './doorKit.ts'
import { MqttCommands } from './mqttCommands.ts'
import { isBelow, mayPublish, mqttMessage } from './mqttMessage.ts'
import { PacketGate } from './packetGate.ts'
import type { PresenceStore } from './retainedPresences.ts'

/** What a client may send before it has said who it is, and after, bytes; a topic may take 64 KiB. */
const largestPacketOfStranger = 8 * 1024
const largestPacket = largestMessage + 66 * 1024

/** A client whose message could not be stored is let go after this rest, ms, so that it does not come back in a storm. */
const restBeforeLettingGo = 2000

/** A message that is held back is looked at again after at most this long, ms. */
const longestRest = 5000

/** That messages of a device are held back is told once in so long, ms. */
const heldBackToldEvery = 60_000

const badCredential = 4

/** bytes */
const largestAnswer = 2048

interface MqttDoorParts extends Omit<DoorKit, 'drops'> {
  readonly commands: Commands
  readonly presences: PresenceStore
  /** Whether a secret may come from another machine without TLS. */
  readonly plainSecrets: boolean
  /** Told where a connection comes from. */
  readonly reachedFrom: (ip: string) => void
}

/** What is done about a client's messages that cannot be taken just now: those it sends again, and those with QoS 0. */
interface ClientPatience {
  readonly sure: Patience
  readonly unsure: Patience
}

/**
 * The MQTT door (3.1.1, over TCP and WebSocket): `sparrow/<address>/in` and `sparrow/<address>/in/<field>`. A PUBACK goes
 * out after the commit; while the store is away there is none, and the client sends again. A device over its allowance is not
 * read until it may go on.
 */
export class MqttDoor {
  readonly #parts: MqttDoorParts
  readonly #broker: Aedes
  readonly #memory: BrokerMemory
  readonly #tcp: Server
  #tls: Server | undefined
  readonly #webSockets = new WebSocketServer({
    noServer: true,
    maxPayload: largestPacket,
    perMessageDeflate: false,
    handleProtocols: (protocols) => (protocols.has('mqtt') ? 'mqtt' : false),
  })
  readonly #limit = new ConnectionLimit()
  readonly #gates = new WeakMap<Duplex, PacketGate>()
  readonly #connections = new DeviceConnections()
  readonly #commands: MqttCommands
  /** Messages with QoS 2 that are being taken, by session and packet. */
  readonly #taking = new Map<string, Promise<unknown>>()
  readonly #heldBackAt = new Map<number, number>()
  readonly #patiences = new WeakMap<Client, ClientPatience>()

  private constructor(parts: MqttDoorParts, broker: Aedes, memory: BrokerMemory) {
    this.#parts = parts
    this.#broker = broker
    this.#memory = memory
    const { faults } = parts
    this.#commands = new MqttCommands({ broker, connections: this.#connections, commands: parts.commands })
    this.#tcp = createServer(
      faults.guard('an MQTT connection', (socket: Socket) => {
        if (!parts.plainSecrets && !isLoopback(socket.remoteAddress ?? '')) socket.destroy()
        else this.#admit(socket)
      }),
    )
    broker.authenticate = (client, username, password, done) => {
      let refused: AuthenticateError | undefined
      try {
        refused = this.#authenticate(client, username ?? '', String(password ?? ''))
      } catch (error) {
        faults.note('an MQTT client that came in', error)
        refused = Object.assign(new Error('the server failed'), { returnCode: 3 })
      }
      done(refused ?? null, refused === undefined)
    }
    broker.authorizePublish = (client, packet, done) => {
      if (client) void this.#publish(client, packet).then(() => done(null), done)
      else done(null)
    }
    broker.authorizeSubscribe = (client, subscription, done) => {
      done(null, isBelow(this.#connections.addressOf(client), subscription.topic) ? subscription : null)
    }
    // Who listens anew may have missed what was sent before.
    broker.on('subscribe', (_, client) => this.sendCommands(this.#connections.addressOf(client), true))
    broker.on('clientReady', (client) => this.sendCommands(this.#connections.addressOf(client), true))
    broker.on('clientError', (client, error) =>
      parts.log.debug({ err: error, address: this.#connections.addressOf(client) }, 'MQTT client'),
    )
    broker.on('connectionError', (_client, error) => parts.log.debug({ err: error }, 'MQTT connection'))
    parts.registry.onRevoked(
      faults.guard('a revoked key', (address: string) => this.#connections.end(address)),
    )
    parts.registry.onDeleted(faults.guard('a deleted device', (device) => this.#forget(device)))
  }

  static async open(parts: MqttDoorParts): Promise<MqttDoor> {
    const memory = new BrokerMemory()
    const broker = await Aedes.createBroker({
      concurrency: 200,
      drainTimeout: 30_000,
      connectTimeout: 10_000,
      maxInflightInbound: 100,
      persistence: memory,
    })
    for (const { address, payload, qos } of await parts.presences.all())
      await memory.storeRetained({
        cmd: 'publish',
        topic: presenceOf(address),
        payload,
        qos,
        retain: true,
        dup: false,
        brokerId: broker.id,
        brokerCounter: 0,
      } as AedesPublishPacket)
    return new MqttDoor(parts, broker, memory)
  }

  /** Lets a connection in over TCP or TLS. */
  #admit(socket: Socket): void {
    if (!this.#limit.admit(socket)) return
    this.#parts.reachedFrom(socket.remoteAddress ?? '')
    // What was cut off without a word is noticed, also where a client promised no sign of life.
    socket.setKeepAlive(true, 60_000)
    // A command is a small packet that nothing follows: it must not wait for what could go with it.
    socket.setNoDelay(true)
    this.#handle(socket)
  }

  /** Listens for TCP. @returns the port @throws EADDRINUSE and its like */
  listen(port: number, host: string): Promise<number> {
    return this.#listen(this.#tcp, port, host)
  }

  /** Listens for TLS, with a certificate that may be renewed meanwhile. */
  listenTls(port: number, host: string, certificates: Certificates): Promise<number> {
    const { faults } = this.#parts
    const tls = createTlsServer(
      certificates.pair,
      faults.guard('an MQTT connection', (socket: Socket) => this.#admit(socket)),
    )
    // Strangers who speak no TLS, or trust nobody here, are no fault of ours.
    tls.on('tlsClientError', (_, socket) => socket.destroy())
    certificates.onRenewed((pair) => tls.setSecureContext(pair))
    this.#tls = tls
    return this.#listen(tls, port, host)
  }

  #listen(server: Server, port: number, host: string): Promise<number> {
    return new Promise((resolve, reject) => {
      server.once('error', reject)
      server.listen(port, host, () => {
        server.off('error', reject)
        server.on('error', (error) => this.#parts.faults.note('the MQTT door', error))
        const address = server.address()
        resolve(address !== null && typeof address === 'object' ? address.port : port)
      })
    })
  }

  /** Takes over a WebSocket connection to `/mqtt`. */
  upgrade(request: IncomingMessage, socket: Duplex, head: Buffer): void {
    this.#webSockets.handleUpgrade(request, socket, head, (webSocket) => {
      webSocket.on('error', () => webSocket.terminate())
      const stream = createWebSocketStream(webSocket)
      stream.on('error', () => stream.destroy())
      this.#handle(stream, request)
    })
  }

  async close(): Promise<void> {
    this.#tcp.close()
    this.#tls?.close()
    await new Promise<void>((closed) => this.#broker.close(() => closed()))
  }

  /** Sends a device what waits for it, where it listens here. */
  sendCommands(address: string, again = false): void {
    const device = this.#parts.registry.get(address)
    if (device) this.#parts.faults.watch('a command by MQTT', this.#commands.send(device, again))
  }

  /** Lets a device hear by what it guards, retained; nothing any more where that is empty. */
  sendLimits(address: string, says: string): void {
    // While the server stops, alarms may still be judged.
    if (this.#broker.closed) return
    this.#broker.publish(
      { cmd: 'publish', topic: `sparrow/${address}/limits`, payload: says, qos: 1, retain: true, dup: false },
      (error) => error && this.#parts.faults.note('limits by MQTT', error),
    )
  }

  /** Gives a connection to the broker, with a gate before it: the broker itself gathers packets however large they are. */
  #handle(connection: Duplex, request?: IncomingMessage): void {
    const gate = new PacketGate(largestPacketOfStranger)
    this.#gates.set(connection, gate)
    const read = connection.read.bind(connection)
    connection.read = (size?: number) => {
      const chunk: Buffer | null = read(size)
      if (chunk === null || gate.pass(chunk)) return chunk
      const { client } = connection as Duplex & { client?: Client }
      const address = client ? this.#connections.addressOf(client) : ''
      const reason = `A packet of more than ${Math.floor(gate.largest / 1024)} KiB was announced; the connection was closed.`
      this.#refuse({ sender: address, deviceId: this.#parts.registry.get(address)?.id ?? null, reason })
      connection.destroy()
      return null
    }
    this.#broker.handle(connection, request)
  }

  /** @returns what to answer when this client may not come in */
  #authenticate(client: Client, address: string, secret: string): AuthenticateError | undefined {
    const device = admit(this.#parts, { address, secret })
    if ('problem' in device) {
      this.#refuse({ sender: address, reason: device.reason })
      return Object.assign(new Error(device.reason), { returnCode: badCredential })
    }
    // A session is its device's own, whatever the client calls itself: no other can end it or get what it is owed.
    client.id = `${device.id}/${client.id}`
    const gate = this.#gates.get(client.conn as Duplex)
    if (gate) gate.largest = largestPacket
    this.#connections.letIn(client, address, this.#parts.now())
    if (!client.clean)
      this.#parts.faults.watch('an MQTT session', this.#memory.openSession(device.id, client))
    return undefined
  }

  #refuse(turned: Omit<TurnedAway, 'receivedAt'>): void {
    turnAway(this.#parts, 'mqtt', { receivedAt: this.#parts.now(), ...turned })
  }

  /**
   * Resolves when the message may be acknowledged. One that cannot be understood is acknowledged too, as sending it again
   * would not mend it; Arrivals says what was wrong.
   */
  async #publish(client: Client, packet: PublishPacket): Promise<void> {
    const { topic, payload } = packet
    const address = this.#connections.heard(client, this.#parts.now())
    const device = this.#parts.registry.get(address)
    const body = typeof payload === 'string' ? Buffer.from(payload) : payload
    if (!device || !mayPublish(device, topic)) {
      const reason = `"${address}" may publish below sparrow/${address}/ only, not to ${presentable(topic, 100)}; the connection was closed.`
      this.#refuse({ sender: address, deviceId: device?.id ?? null, topic, body, reason })
      throw new Error(reason)
    }
    const own = `sparrow/${address}/state/`
    if (topic.startsWith(own)) return this.#state(client, device, packet, body, topic.slice(own.length))
    const message = mqttMessage(address, topic, body, this.#parts.now())
    if (!message) return this.#pass(client, device, packet, body)
    // What was measured is stored; the broker keeps no copy of it.
    packet.retain = false
    if (body.length > largestMessage) {
      const reason = `The payload is larger than ${largestMessage / 1024} KiB.`
      this.#refuse({ sender: address, deviceId: device.id, reason })
      return
    }
    if (packet.qos === 2) await this.#takeOnce(client, packet, () => this.#take(client, device, message, 2))
    else await this.#take(client, device, message, packet.qos)
  }

  /** What a device says of a controlled signal: the value is a message of its field, the answer is for the command. */
  async #state(
    client: Client,
    device: RegisteredDevice,
    packet: PublishPacket,
    body: Buffer,
    name: string,
  ): Promise<void> {
    packet.retain = false
    if (body.length > largestAnswer) {
      const reason = `What a device says of a signal has at most ${largestAnswer} bytes.`
      this.#refuse({ sender: device.address, deviceId: device.id, topic: packet.topic, reason })
      return
    }
    const receivedAt = this.#parts.now()
    const sent = { door: 'mqtt', mediaType: '', tail: name, topic: packet.topic, body, receivedAt } as const
    if (await this.#parts.straightWay.admit(device, sent, this.#patience(client, device, packet.qos))) return
    await this.#commands.answered(device, body, async (value) => {
      const topic = `sparrow/${device.address}/in/${name}`
      const message = mqttMessage(device.address, topic, value, receivedAt)
      // It was held to its allowance already.
      if (message) await this.#take(client, device, { ...message, admitted: true }, packet.qos)
    })
  }

  /** A message with QoS 2 that is sent again, before its sender knows that it was taken, is not taken again. */
  async #takeOnce(client: Client, packet: PublishPacket, take: () => Promise<void>): Promise<void> {
    const key = `${client.id} ${packet.messageId}`
    const before = this.#taking.get(key)
    if (before) {
      await before
      return
    }
    const taking = this.#memory.hasTaken(client, packet).then(async (isTaken) => {
      if (isTaken) return
      this.#memory.reserve(client, packet)
      try {
        await take()
        await this.#memory.incomingStorePacket(client, packet)
      } catch (error) {
        this.#memory.release(client, packet)
        throw error
      }
    })
    this.#taking.set(key, taking)
    try {
      await taking
    } finally {
      this.#taking.delete(key)
    }
  }

  async #take(
    client: Client,
    device: RegisteredDevice,
    message: ReceivedMessage,
    qos: number,
  ): Promise<void> {
    const { budget, straightWay, log } = this.#parts
    const { address } = device
    const bytes = message.body.length
    const held = budget.hold(address, bytes)
    try {
      if (!held) throw new Overloaded('more is being read than fits in memory')
      await straightWay.receive(device, message, this.#patience(client, device, qos))
    } catch (error) {
      log.warn({ err: error, address }, 'a message was not acknowledged: it could not be stored')
      await pause(restBeforeLettingGo)
      throw error
    } finally {
      if (held) budget.release(address, bytes)
    }
  }

  /** Made once for each client: it is asked for with every message. */
  #patience(client: Client, device: RegisteredDevice, qos: number): Patience {
    const known = this.#patiences.get(client) ?? this.#makePatience(client, device.id)
    this.#patiences.set(client, known)
    return qos === 0 ? known.unsure : known.sure
  }

  /** A client is not read while its messages wait; with QoS 0 nobody would send them again. */
  #makePatience(client: Client, deviceId: number): ClientPatience {
    const rest = async (ms: number) => {
      await pause(Math.min(ms, longestRest))
      if (isGone(client)) throw new Overloaded('the connection ended while its message waited')
      return true
    }
    const sure: Patience = {
      holdBack: ({ reason, retryAfter }) => {
        const device = this.#parts.registry.byId(deviceId)
        if (device) this.#tellHeldBack(device, reason)
        return rest((retryAfter ?? 1) * 1000)
      },
    }
    return { sure, unsure: { ...sure, tryAgain: () => rest(restBeforeLettingGo) } }
  }

  #tellHeldBack({ id, address }: RegisteredDevice, reason: string): void {
    const now = this.#parts.now()
    if (now - (this.#heldBackAt.get(id) ?? 0) < heldBackToldEvery) return
    this.#heldBackAt.set(id, now)
    this.#refuse({
      sender: address,
      deviceId: id,
      outcome: 'throttled',
      reason: `${reason} Until then its messages wait.`,
    })
  }

  /** What is for others who listen, such as a device's presence, is passed on; a little of it is retained. */
  async #pass(client: Client, device: RegisteredDevice, packet: PublishPacket, body: Buffer): Promise<void> {
    const { address, id } = device
    const { straightWay, presences, faults, now } = this.#parts
    const message = {
      door: 'mqtt',
      mediaType: '',
      tail: '',
      topic: packet.topic,
      body,
      receivedAt: now(),
    } as const
    if (await straightWay.admit(device, message, this.#patience(client, device, packet.qos))) return
    if (!packet.retain) return
    const problem = this.#memory.whyNotRetained({ topic: packet.topic, payload: body })
    if (problem) {
      packet.retain = false
      const reason = `It was passed on and not retained: ${problem}.`
      this.#refuse({ sender: address, deviceId: id, topic: packet.topic, reason })
    } else if (packet.topic === presenceOf(address))
      faults.watch('a presence', presences.keep(id, body, packet.qos))
  }

  /** What was retained and owed goes with a device: another one may get its address. */
  async #forget({ id, address }: Pick<RegisteredDevice, 'id' | 'address'>): Promise<void> {
    this.#heldBackAt.delete(id)
    await this.#memory.forgetRetained(address)
    await this.#memory.forgetSessions(id)
  }
}

const presenceOf = (address: string): string => `sparrow/${address}/presence`

const isGone = ({ conn, closed }: Client): boolean => closed || conn.destroyed
