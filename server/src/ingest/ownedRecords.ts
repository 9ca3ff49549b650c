import {
  claimTopic,
  decode,
  type FieldRecord,
  isFailure,
  type Message,
  mediaTypes,
  ownRecords,
  type SignalsOf,
} from '@jaunty-sparrow/core'
import type { KeptMessage } from '../arrivals/keptMessage.ts'
import type { DeviceRegistry, RegisteredDevice } from './deviceRegistry.ts'

/** The records of a message, with the device each is of. */
export interface OwnedRecords {
  readonly records: readonly FieldRecord[]
  /** Whose a record is, by its index; undefined when the address it names belongs to nobody. */
  readonly owners: readonly (RegisteredDevice | undefined)[]
  readonly signalsOf: SignalsOf
}

/** Why no record could be read out of a message. */
export interface Unreadable {
  readonly problem: 'unknown-media-type' | 'not-json' | 'nothing-stored'
  readonly detail: string
}

/** Whose a message is: the key it came with and, where its topic told, the device it is for. */
export interface Sender {
  readonly key: RegisteredDevice
  readonly target: RegisteredDevice | undefined
}

/** Who sent a kept message of a device; undefined when nobody had claimed it, or the key is gone. */
export function senderOf(
  registry: DeviceRegistry,
  device: RegisteredDevice,
  { sender, topic, outcome }: Pick<KeptMessage, 'sender' | 'topic' | 'outcome'>,
): Sender | undefined {
  const key = registry.get(sender)
  return key && outcome !== 'unclaimed' ? { key, target: topic === '' ? undefined : device } : undefined
}

/** A message that was published beyond the branch of its key, and whose it is. */
export interface Claimed<M> {
  readonly sender: Sender & { readonly target: RegisteredDevice }
  readonly message: M
}

/** Finds whose a message is by its topic; undefined while nobody has claimed that. */
export function claimedBy<M extends { readonly topic: string; readonly tail: string }>(
  registry: DeviceRegistry,
  key: RegisteredDevice,
  message: M,
): Claimed<M> | undefined {
  const found = claimTopic(key.claims, message.topic)
  const target = found && registry.get(found.device)
  return target && { sender: { key, target }, message: { ...message, tail: found.tail } }
}

/** Decodes a message, and finds whose each of its records is by what is known now. */
export function ownedRecords(
  registry: DeviceRegistry,
  { key, target }: Sender,
  message: Message,
  receivedAt: number,
): OwnedRecords | Unreadable {
  const records = decode(message, receivedAt)
  if (records === undefined) {
    return {
      problem: 'unknown-media-type',
      detail: `The content type "${message.mediaType}" is not understood; send ${mediaTypes.join(' or ')}.`,
    }
  }
  if (isFailure(records)) return { problem: 'not-json', detail: records.failure }
  if (records.every(({ fields }) => fields.length === 0)) {
    return {
      problem: 'nothing-stored',
      detail: 'The message holds no fields; send at least one, like {"temperature": 21.5}.',
    }
  }
  const { claims } = registry.present(key)
  if (target || !claims.some(({ by }) => by === 'field')) {
    const owner = registry.present(target ?? key)
    return { records, owners: records.map(() => owner), signalsOf: () => owner.signals }
  }
  const owned = ownRecords(claims, records)
  const owners = owned.map(({ device }) =>
    device === undefined ? registry.present(key) : registry.get(device),
  )
  return {
    records: owned.map(({ record }) => record),
    owners,
    signalsOf: (record) =>
      owners[record]?.signals ?? { problem: `no device has the address "${owned[record]?.device}" here` },
  }
}

/** The devices that have a record in a message, each once. */
export const distinctOwners = ({ owners }: OwnedRecords): RegisteredDevice[] => [
  ...new Set(owners.flatMap((owner) => owner ?? [])),
]
