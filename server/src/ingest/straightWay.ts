import type { DoorName, ProblemKind } from '@jaunty-sparrow/contract'
import {
  decode,
  type FieldRecord,
  fieldLabel,
  type Interpretation,
  interpret,
  isFailure,
  type Message,
  mediaTypes,
  type Reading,
  type Refusal,
  unknownFields,
} from '@jaunty-sparrow/core'
import type { KeptMessage } from '../arrivals/keptMessage.ts'
import type { RefusalRecorder } from '../arrivals/recorder.ts'
import type { DeviceRegistry, RegisteredDevice } from './deviceRegistry.ts'
import type { GroupCommit } from './groupCommit.ts'
import type { Throttle, Throttled } from './throttle.ts'

/** What came of a message, for its door to say in the door's own language. */
export type Outcome =
  | { readonly kind: 'stored'; readonly stored: number; readonly refused: readonly Refusal[] }
  | {
      readonly kind: 'refused'
      readonly problem: ProblemKind
      readonly detail: string
      readonly refused: readonly Refusal[]
    }
  | ({ readonly kind: 'throttled' } & Throttled)

/** Told of what was committed, after it was. */
export interface Listener {
  readings(readings: readonly Reading[]): void
  arrived(message: KeptMessage): void
  devicesChanged(): void
}

/** A message with what its door knows of its coming. */
export interface ReceivedMessage extends Message {
  readonly door: DoorName
  /** Epoch ms. */
  readonly receivedAt: number
  readonly tail: string
}

interface StraightWayParts {
  readonly registry: DeviceRegistry
  readonly commit: GroupCommit
  readonly listener: Listener
  readonly recorder: RefusalRecorder
  readonly throttle: Throttle
  /** Numbers a message, in the order of arrival. */
  readonly number: (receivedAt: number) => number
}

/**
 * decode → map → convert → judge → commit → publish: the one way of every message, whichever door it came through.
 * The door answers when `receive` resolves, which is after the commit.
 */
export class StraightWay {
  readonly #registry: DeviceRegistry
  readonly #commit: GroupCommit
  readonly #listener: Listener
  readonly #recorder: RefusalRecorder
  readonly #throttle: Throttle
  readonly #number: (receivedAt: number) => number

  constructor({ registry, commit, listener, recorder, throttle, number }: StraightWayParts) {
    this.#registry = registry
    this.#commit = commit
    this.#listener = listener
    this.#recorder = recorder
    this.#throttle = throttle
    this.#number = number
  }

  /** @throws whatever the store threw; then nothing of the message is acknowledged */
  async receive(device: RegisteredDevice, message: ReceivedMessage): Promise<Outcome> {
    const outcome = await this.#receive(device, message)
    if (outcome.kind !== 'stored') {
      const reason =
        outcome.kind === 'throttled'
          ? outcome.reason
          : outcome.refused.length > 0
            ? inShort(outcome.refused)
            : outcome.detail
      this.#recorder.record({
        ...message,
        deviceId: device.id,
        sender: device.address,
        outcome: outcome.kind,
        reason,
      })
    }
    return outcome
  }

  async #receive(device: RegisteredDevice, message: ReceivedMessage): Promise<Outcome> {
    const { receivedAt } = message
    const throttled = this.#throttle.message(device, message.body.length)
    if (throttled) return { kind: 'throttled', ...throttled }
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
    const tooMany = this.#throttle.readings(device, readings.length)
    if (tooMany) return { kind: 'throttled', ...tooMany }
    const kept: KeptMessage = {
      receivedAt,
      door: message.door,
      mediaType: message.mediaType,
      tail: message.tail,
      body: message.body,
      id: this.#number(receivedAt),
      deviceId: device.id,
      sender: device.address,
      outcome: refused.length === 0 ? 'stored' : 'partly',
      stored: readings.length,
      reason: inShort(refused),
    }
    await this.#commit.submit({ message: kept, readings })
    this.#registry.arrived(device, receivedAt)
    this.#listener.readings(readings)
    this.#listener.arrived(kept)
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

/** The first refusal, as it stands in lists. */
const inShort = ([first]: readonly Refusal[]): string =>
  first ? `${fieldLabel(first.field)}: ${first.reason}` : ''

function summarize(refused: readonly Refusal[]): string {
  const [first] = refused
  if (!first) return 'Nothing in the message could be stored.'
  const more = refused.length > 1 ? ` (and ${refused.length - 1} more, listed in "refused")` : ''
  return `${first.field}: ${first.reason}${more}.`
}
