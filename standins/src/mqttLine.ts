import type { Credential } from '@jaunty-sparrow/core/device'
import mqtt from 'mqtt'
import type { PastMessage } from './history.ts'
import type { Line, Take } from './line.ts'

/** ms between two attempts to connect. */
const patience = 5000

/** A connection to the broker; it is kept up for as long as it is open. */
export function connect(origin: string, { address, secret }: Credential): mqtt.MqttClient {
  const client = mqtt.connect(`${origin.replace(/^http/, 'ws')}/mqtt`, {
    username: address,
    password: secret,
    reconnectPeriod: patience,
  })
  // It tries again by itself, and what was not delivered is kept by whoever sends.
  client.on('error', () => undefined)
  return client
}

/** Publishes messages to one topic with QoS 1, several of them as a backlog. A gateway has a line for each of its boards. */
export class MqttLine implements Line {
  readonly #client: mqtt.MqttClient
  readonly #topic: string

  constructor(client: mqtt.MqttClient, topic: string) {
    this.#client = client
    this.#topic = topic
  }

  async send(messages: readonly PastMessage[]): Promise<void> {
    if (!this.#client.connected) throw new Error('There is no connection to the broker.')
    await this.#client.publishAsync(
      this.#topic,
      JSON.stringify(messages.length === 1 ? messages[0] : messages),
      { qos: 1 },
    )
  }

  listen(take: Take): void {
    const own = /^(sparrow\/[^/]+)\/in$/.exec(this.#topic)?.[1]
    if (own === undefined) return
    this.#client.on('connect', () => this.#client.subscribe(`${own}/set/#`, { qos: 1 }))
    this.#client.on('message', (topic, payload) => {
      const signal = topic.slice(`${own}/set/`.length)
      void take({ ...JSON.parse(payload.toString('utf8')), signal }).then(
        (said) => said && this.#client.publish(`${own}/state/${signal}`, JSON.stringify(said), { qos: 1 }),
      )
    })
  }

  close(): void {
    this.#client.end(true)
  }
}
