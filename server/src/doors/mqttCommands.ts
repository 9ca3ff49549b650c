import { commandText, readAnswer } from '@jaunty-sparrow/core/command'
import { usualControl } from '@jaunty-sparrow/core/signal'
import type { Aedes } from 'aedes'
import type { Commands } from '../commands/commands.ts'
import type { RegisteredDevice } from '../devices/registeredDevice.ts'
import type { DeviceConnections } from './deviceConnections.ts'

interface MqttCommandsParts {
  readonly broker: Aedes
  readonly connections: DeviceConnections
  readonly commands: Pick<Commands, 'takeWaiting' | 'answered'>
}

/** The way of commands down over MQTT: `sparrow/<address>/set/<signal>`, and what comes back at `sparrow/<address>/state/<signal>`. */
export class MqttCommands {
  readonly #parts: MqttCommandsParts

  constructor(parts: MqttCommandsParts) {
    this.#parts = parts
  }

  /** Sends what waits for a device, as far as it listens. @param again whether it may have missed what was sent before */
  async send({ id, address }: Pick<RegisteredDevice, 'id' | 'address'>, again: boolean): Promise<void> {
    const { broker, connections, commands } = this.#parts
    const topicOf = (name: string) => `sparrow/${address}/set/${name}`
    const waiting = await commands.takeWaiting(id, again, (name) => connections.hears(address, topicOf(name)))
    for (const { command, signal, name } of waiting) {
      const { kind, control } = signal.definition
      const payload = commandText(command, kind, (control ?? usualControl).bare)
      await new Promise<void>((sent, failed) =>
        broker.publish(
          { cmd: 'publish', topic: topicOf(name), payload, qos: 1, retain: false, dup: false },
          (error) => (error ? failed(error) : sent()),
        ),
      )
    }
  }

  /**
   * Takes what a device says of a controlled signal.
   * @param store stores the value it has now, as the body of a message of its field; it is known before the command is confirmed
   */
  async answered(
    { id }: Pick<RegisteredDevice, 'id'>,
    body: Buffer,
    store: (value: Buffer) => Promise<void>,
  ): Promise<void> {
    const answer = readAnswer(body.toString('utf8'))
    if (answer.value !== undefined) await store(Buffer.from(JSON.stringify(answer.value)))
    if (answer.id !== undefined && answer.says)
      await this.#parts.commands.answered(id, answer.id, answer.says, answer.why)
  }
}
