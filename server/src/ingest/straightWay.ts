import type { ProblemKind } from '@jaunty-sparrow/contract'
import {
  decode,
  type FieldRecord,
  type Interpretation,
  interpret,
  isFailure,
  type Message,
  mediaTypes,
  type Reading,
  type Refusal,
  unknownFields,
} from '@jaunty-sparrow/core'
import type { DeviceRegistry, RegisteredDevice } from './deviceRegistry.ts'
import type { GroupCommit } from './groupCommit.ts'

/** What came of a message, for its door to say in the door's own language. */
export type Outcome =
  | { readonly kind: 'stored'; readonly stored: number; readonly refused: readonly Refusal[] }
  | {
      readonly kind: 'refused'
      readonly problem: ProblemKind
      readonly detail: string
      readonly refused: readonly Refusal[]
    }

/** Told of what was committed, after it was. */
export interface Listener {
  readings(readings: readonly Reading[]): void
  devicesChanged(): void
}

/**
 * decode → map → convert → judge → commit → publish: the one way of every message, whichever door it came through.
 * The door answers when `receive` resolves, which is after the commit.
 */
export class StraightWay {
  readonly #registry: DeviceRegistry
  readonly #commit: GroupCommit
  readonly #listener: Listener

  constructor(registry: DeviceRegistry, commit: GroupCommit, listener: Listener) {
    this.#registry = registry
    this.#commit = commit
    this.#listener = listener
  }

  /**
   * @param receivedAt when the message came in, epoch ms
   * @throws whatever the store threw; then nothing of the message is acknowledged
   */
  async receive(device: RegisteredDevice, message: Message, receivedAt: number): Promise<Outcome> {
    const records = decode(message, receivedAt)
    if (records === undefined) {
      return refusal(
        'unknown-media-type',
        `The content type "${message.mediaType}" is not understood; send ${mediaTypes.join(' or ')}.`,
      )
    }
    if (isFailure(records)) return refusal('not-json', records.failure)
    if (records.every(({ fields }) => fields.length === 0)) {
      return refusal(
        'nothing-stored',
        'The message holds no fields; send at least one, like {"temperature": 21.5}.',
      )
    }
    const { readings, refused } = await this.#interpret(device, records, receivedAt)
    if (readings.length === 0 && refused.length > 0) {
      return { ...refusal('nothing-stored', summarize(refused)), refused }
    }
    await this.#commit.submit(readings)
    this.#registry.arrived(device, receivedAt)
    this.#listener.readings(readings)
    return { kind: 'stored', stored: readings.length, refused }
  }

  async #interpret(
    device: RegisteredDevice,
    records: readonly FieldRecord[],
    receivedAt: number,
  ): Promise<Interpretation> {
    const unknown = unknownFields(records, device.signals)
    if (unknown.length === 0) return interpret(records, device.signals, receivedAt)
    const known = await this.#registry.suggest(device, unknown)
    if (known.signals.size !== device.signals.size) this.#listener.devicesChanged()
    return interpret(records, known.signals, receivedAt)
  }
}

const refusal = (problem: ProblemKind, detail: string) =>
  ({ kind: 'refused', problem, detail, refused: [] }) as const

function summarize(refused: readonly Refusal[]): string {
  const [first] = refused
  if (!first) return 'Nothing in the message could be stored.'
  const more = refused.length > 1 ? ` (and ${refused.length - 1} more, listed in "refused")` : ''
  return `${first.field}: ${first.reason}${more}.`
}
