import { type answerIn, lineOf } from '@jaunty-sparrow/core/command'
import { guessMediaType } from '@jaunty-sparrow/core/message'
import { usualControl } from '@jaunty-sparrow/core/signal'
import type { Commands } from '../commands/commands.ts'
import type { RegisteredDevice } from '../devices/registeredDevice.ts'
import type { StraightWay } from '../ingest/straightWay.ts'

interface SerialCommandsParts {
  readonly commands: Pick<Commands, 'takeWaiting' | 'answered'>
  readonly straightWay: Pick<StraightWay, 'receive'>
}

/** A line to a board. */
interface Writable {
  readonly isReached: boolean
  /** @returns whether there was a way to the board */
  readonly write: (line: string) => boolean
}

/** The way of commands down a cable, a line for each, and of the lines that answer them. */
export class SerialCommands {
  readonly #parts: SerialCommandsParts

  constructor(parts: SerialCommandsParts) {
    this.#parts = parts
  }

  /** Writes what waits for a device. @param again whether it may have missed what was written before */
  async send(deviceId: number, line: Writable, again: boolean): Promise<void> {
    for (const { command, signal, name } of await this.#parts.commands.takeWaiting(
      deviceId,
      again,
      () => line.isReached,
    )) {
      const { kind, control } = signal.definition
      line.write(lineOf(name, command, kind, (control ?? usualControl).bare))
    }
  }

  /** Takes what a board says of a command: the value is a message of its field, known before the command is confirmed. */
  async answered(
    device: RegisteredDevice,
    { id, says, why, value, signal }: NonNullable<ReturnType<typeof answerIn>>,
    receivedAt: number,
  ): Promise<void> {
    const { commands, straightWay } = this.#parts
    if (value !== undefined) {
      const body = Buffer.from(JSON.stringify(value))
      const mediaType = guessMediaType(body, signal)
      await straightWay.receive(device, {
        door: 'serial',
        mediaType,
        tail: signal,
        topic: '',
        body,
        receivedAt,
      })
    }
    if (id !== undefined && says) await commands.answered(device.id, id, says, why)
  }
}
