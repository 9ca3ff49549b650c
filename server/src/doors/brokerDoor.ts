import { setTimeout as pause } from 'node:timers/promises'
import { largestMessage } from '@jaunty-sparrow/core/device'
import { longest, presentable } from '@jaunty-sparrow/core/text'
import mqtt, { type IClientOptions, type MqttClient } from 'mqtt'
import type { RegisteredDevice } from '../devices/registeredDevice.ts'
import { type DoorKit, turnAway } from './doorKit.ts'
import { mayPublish, mqttMessage } from './mqttMessage.ts'

/**
 * A connection hands over one message after the other, each when the one before is committed; several side by side keep the
 * store busy.
 */
const lanes = 16

/** How long the broker keeps what a server that is away has not acknowledged, seconds. */
const sessionLength = 7 * 86_400

/** How long to wait before a message is handed over again that could not be stored, ms. */
const retryAfter = 1000

type BrokerDoorParts = Pick<DoorKit, 'registry' | 'straightWay' | 'recorder' | 'faults' | 'now' | 'log'>

/**
 * The MQTT door by way of an external broker: a client of it (MQTT 5) with a shared subscription, so that several servers
 * divide one stream among them. The broker knows who its clients are; a message is acknowledged to it after the commit.
 */
export class BrokerDoor {
  readonly #parts: BrokerDoorParts
  readonly #clients: MqttClient[]
  readonly #closing = new AbortController()
  #filters: ReadonlySet<string> = new Set()

  /** @param name of this server among those that share the stream; after a restart the same name gets what was left undone */
  constructor(url: string, name: string, parts: BrokerDoorParts) {
    this.#parts = parts
    this.#clients = Array.from({ length: lanes }, (_, lane) => this.#connect(url, `${name}-${lane}`))
    parts.registry.onChange(() => this.#subscribe())
    this.#subscribe()
  }

  async close(): Promise<void> {
    this.#closing.abort()
    // What is not acknowledged yet stays with the broker, which hands it over again.
    await Promise.all(this.#clients.map((client) => client.endAsync(true)))
  }

  #connect(url: string, clientId: string): MqttClient {
    const parts = this.#parts
    const options: IClientOptions = {
      clientId: `jaunty-sparrow-${clientId}`,
      protocolVersion: 5,
      clean: false,
      properties: { sessionExpiryInterval: sessionLength, receiveMaximum: 100 },
      resubscribe: true,
      customHandleAcks: (topic, payload, _packet, done) => {
        parts.faults.watch(
          'a message of the broker',
          this.#receive(topic, payload).then((held) => held && done(0)),
        )
      },
    }
    const client = mqtt.connect(url, options)
    client.on('message', (topic, payload, { qos }) => {
      if (qos === 0) parts.faults.watch('a message of the broker', this.#receive(topic, payload))
    })
    client.on('error', (error) => parts.log.warn({ err: error, clientId }, 'the MQTT broker'))
    return client
  }

  /** Asks for the way in of every device, and for what some may publish to besides. */
  #subscribe(): void {
    const wanted = new Set(['sparrow/+/in/#'])
    for (const { reach } of this.#parts.registry.all()) for (const filter of reach) wanted.add(filter)
    const more = [...wanted].filter((filter) => !this.#filters.has(filter))
    const less = [...this.#filters].filter((filter) => !wanted.has(filter))
    this.#filters = wanted
    for (const client of this.#clients) {
      for (const filter of more) client.subscribe(`$share/jaunty-sparrow/${filter}`, { qos: 1 })
      for (const filter of less) client.unsubscribe(`$share/jaunty-sparrow/${filter}`)
    }
  }

  /** @returns whether the message may be acknowledged: when it is durable, or will never be understood */
  async #receive(topic: string, body: Buffer): Promise<boolean> {
    const receivedAt = this.#parts.now()
    const address = /^sparrow\/([^/]+)\/in(?:\/|$)/.exec(topic)?.[1]
    const device = address === undefined ? this.#whoReaches(topic) : this.#parts.registry.get(address)
    if (!device || body.length > largestMessage) {
      this.#turnAway(device, address ?? '', topic, body, receivedAt)
      return true
    }
    const message = mqttMessage(device.address, topic, body, receivedAt)
    if (!message) return true
    // Over its allowance a device is not held back here: the stream is shared, and others would wait behind it.
    const received = this.#parts.straightWay.receive(device, message, {
      tryAgain: async (error) => {
        this.#parts.log.warn({ err: error, topic }, 'a message waits: it could not be stored')
        await pause(retryAfter)
        return !this.#closing.signal.aborted
      },
    })
    return received.then(
      () => true,
      () => false,
    )
  }

  #whoReaches(topic: string): RegisteredDevice | undefined {
    for (const device of this.#parts.registry.all()) if (mayPublish(device, topic)) return device
    return undefined
  }

  #turnAway(
    device: RegisteredDevice | undefined,
    address: string,
    topic: string,
    body: Buffer,
    receivedAt: number,
  ): void {
    if (device) {
      turnAway(this.#parts, 'mqtt', {
        receivedAt,
        deviceId: device.id,
        sender: device.address,
        reason: `The payload is larger than ${largestMessage / 1024} KiB.`,
      })
      return
    }
    turnAway(this.#parts, 'mqtt', {
      receivedAt,
      sender: address,
      topic: address ? '' : topic,
      body,
      outcome: address ? 'unclaimed' : 'refused',
      reason: `No device has the address "${presentable(address, longest.sender)}" here.`,
    })
  }
}
