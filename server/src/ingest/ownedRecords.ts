import { claimTopic, ownRecords } from '@jaunty-sparrow/core/claim'
import type { SignalsOf } from '@jaunty-sparrow/core/interpret'
import { type FieldRecord, isFailure, mediaTypes } from '@jaunty-sparrow/core/message'
import { presentable } from '@jaunty-sparrow/core/text'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import type { RegisteredDevice } from '../devices/registeredDevice.ts'
import type { KeptMessage } from '../messages/keptMessage.ts'
import type { DecodedMessage } from './decodeMessage.ts'

/** The records of a message, with the device each is of. */
export interface OwnedRecords {
  readonly records: readonly FieldRecord[]
  /** Whose a record is, by its index; undefined when the address it names belongs to nobody. */
  readonly owners: readonly (RegisteredDevice | undefined)[]
  readonly signalsOf: SignalsOf
  /** Whether each record is of something that nobody has claimed. */
  readonly unclaimed: boolean
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

/** Finds whose each record of a message is, by what is known now. */
export function ownedRecords(
  registry: DeviceRegistry,
  { key, target }: Sender,
  { mediaType, records }: DecodedMessage,
): OwnedRecords | Unreadable {
  if (records === undefined) {
    return {
      problem: 'unknown-media-type',
      detail: `The content type "${presentable(mediaType, 60)}" is not understood; send ${mediaTypes.join(' or ')}.`,
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
    return { records, owners: records.map(() => owner), signalsOf: signalsOf(owner), unclaimed: false }
  }
  const owned = ownRecords(claims, records)
  const owners = owned.map(({ device, unclaimed }) =>
    unclaimed !== undefined ? undefined : device === undefined ? registry.present(key) : registry.get(device),
  )
  return {
    records: owned.map(({ record }) => record),
    owners,
    unclaimed: owned.every(({ unclaimed }) => unclaimed !== undefined),
    signalsOf: (record) => owners[record]?.signals ?? { problem: nobody(owned[record]) },
  }
}

/** Nearly every message is of one device, so what tells its signals is made once. */
const ofOne = new WeakMap<RegisteredDevice, SignalsOf>()

function signalsOf(owner: RegisteredDevice): SignalsOf {
  const known = ofOne.get(owner) ?? (() => owner.signals)
  ofOne.set(owner, known)
  return known
}

const nobody = (
  owned: { readonly device: string | undefined; readonly unclaimed?: string } | undefined,
): string =>
  owned?.unclaimed === undefined
    ? `no device has the address "${presentable(owned?.device ?? '', 60)}" here`
    : `nobody has claimed "${presentable(owned.unclaimed, 60)}" yet: its owner can, on the page of the gateway`

/** The devices that have a record in a message, each once. */
export const distinctOwners = ({ owners }: OwnedRecords): RegisteredDevice[] => [
  ...new Set(owners.flatMap((owner) => owner ?? [])),
]
