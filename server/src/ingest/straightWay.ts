import type { DoorName, ProblemKind } from '@jaunty-sparrow/contract'
import {
  fieldLabel,
  interpret,
  type Message,
  type Reading,
  type Refusal,
  unknownFields,
} from '@jaunty-sparrow/core'
import type { KeptMessage } from '../arrivals/keptMessage.ts'
import type { RefusalRecorder } from '../arrivals/recorder.ts'
import type { DeviceRegistry, RegisteredDevice } from './deviceRegistry.ts'
import type { GroupCommit } from './groupCommit.ts'
import { claimedBy, distinctOwners, type OwnedRecords, ownedRecords, type Sender } from './ownedRecords.ts'
import type { Throttle, Throttled } from './throttle.ts'

interface Stored {
  readonly kind: 'stored'
  readonly stored: number
  /** How many of them were not there already; told of files only, where it is counted. */
  readonly fresh: number
  readonly refused: readonly Refusal[]
}

interface Refused {
  readonly kind: 'refused'
  readonly problem: ProblemKind
  readonly detail: string
  readonly refused: readonly Refusal[]
}

/** What came of a message, for its door to say in the door's own language. */
export type Outcome =
  | Stored
  | Refused
  | ({ readonly kind: 'throttled' } & Throttled)
  /** Nobody has claimed its topic; it was kept until somebody does. */
  | { readonly kind: 'unclaimed' }

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
  /** The topic, when it is not below the sender's own address; else empty. */
  readonly topic: string
}

/** A message that was read: what is to be stored of it, and whose it is. */
export interface ReadMessage {
  readonly kind: 'read'
  readonly readings: readonly Reading[]
  readonly refused: readonly Refusal[]
  readonly owners: readonly RegisteredDevice[]
}

/** Asked, when a message could not be stored, whether to try once more. It may take its time. */
export type TryAgain = (error: unknown) => Promise<boolean>

const giveUp: TryAgain = async () => false

/**
 * How far instants may run ahead of the clock when a device says more than one message a millisecond, ms. When the clock is
 * set back by more, instants follow it.
 */
const mostAhead = 1000

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
  readonly #parts: StraightWayParts
  /** When each device was last heard, epoch ms. */
  readonly #lastInstants = new Map<number, number>()

  constructor(parts: StraightWayParts) {
    this.#parts = parts
  }

  /**
   * @param key the device whose credential the message came with
   * @param tryAgain for a door whose messages nobody sends again: however often they have to be stored, they keep their instant,
   *   and are held to the limits once
   * @throws whatever the store threw; then nothing of the message is acknowledged
   */
  async receive(key: RegisteredDevice, sent: ReceivedMessage, tryAgain = giveUp): Promise<Outcome> {
    const receivedAt = this.#instant(key, sent.receivedAt)
    const message = receivedAt === sent.receivedAt ? sent : { ...sent, receivedAt }
    const throttled =
      message.door === 'file' ? undefined : this.#parts.throttle.message(key, message.body.length)
    if (throttled) return this.#turnAway({ key, target: undefined }, message, throttledBy(throttled))
    if (message.topic === '') return this.#receive({ key, target: undefined }, message, tryAgain)
    const claimed = claimedBy(this.#parts.registry, key, message)
    if (claimed) return this.#receive(claimed.sender, claimed.message, tryAgain)
    const kept = this.#kept(key, key, message, 'unclaimed', 0, '')
    await persist(() => this.#parts.commit.submit({ message: kept, readings: [] }), tryAgain)
    this.#parts.listener.arrived(kept)
    return { kind: 'unclaimed' }
  }

  /**
   * Two messages that a device sends within the same millisecond came in one after the other: each has an instant of its own,
   * so that readings without a time of their own do not take each other's place.
   */
  #instant({ id }: RegisteredDevice, receivedAt: number): number {
    const next = (this.#lastInstants.get(id) ?? 0) + 1
    const instant = next > receivedAt && next - receivedAt < mostAhead ? next : receivedAt
    this.#lastInstants.set(id, instant)
    return instant
  }

  /** decode → map → convert → judge; fields nobody has described become suggested signals on the way. */
  async read(
    sender: Sender,
    message: Message & { readonly receivedAt: number },
  ): Promise<ReadMessage | Refused> {
    const { registry } = this.#parts
    let owned = ownedRecords(registry, sender, message, message.receivedAt)
    if ('problem' in owned) return { kind: 'refused', ...owned, refused: [] }
    if (await this.#suggest(owned)) owned = ownedRecords(registry, sender, message, message.receivedAt)
    if ('problem' in owned) return { kind: 'refused', ...owned, refused: [] }
    const { readings, refused } = interpret(owned.records, owned.signalsOf, message.receivedAt)
    if (readings.length === 0 && refused.length > 0)
      return { kind: 'refused', problem: 'nothing-stored', detail: summarize(refused), refused }
    return { kind: 'read', readings, refused, owners: distinctOwners(owned) }
  }

  async #receive(sender: Sender, message: ReceivedMessage, tryAgain: TryAgain): Promise<Outcome> {
    const { registry, commit, listener, throttle } = this.#parts
    const read = await persist(() => this.read(sender, message), tryAgain)
    if (read.kind === 'refused') return this.#turnAway(sender, message, read)
    const { readings, refused, owners } = read
    // A file is brought by a person, who knows what they do: it is held to no limit, and tells nothing of the cadence.
    const byHand = message.door === 'file'
    const tooMany = byHand ? undefined : throttle.readings(sender.key, readings.length)
    if (tooMany) return this.#turnAway(sender, message, throttledBy(tooMany))
    const [only = sender.key, another] = owners
    const kept = this.#kept(
      sender.key,
      another ? sender.key : only,
      message,
      refused.length === 0 ? 'stored' : 'partly',
      readings.length,
      inShort(refused),
    )
    const written = await persist(() => commit.submit({ message: kept, readings, alone: byHand }), tryAgain)
    if (!byHand) for (const owner of owners) registry.arrived(owner, message.receivedAt)
    listener.readings(readings)
    listener.arrived(kept)
    return { kind: 'stored', stored: readings.length, fresh: byHand ? written : readings.length, refused }
  }

  #turnAway<O extends Exclude<Outcome, Stored | { kind: 'unclaimed' }>>(
    { key, target }: Sender,
    message: ReceivedMessage,
    outcome: O,
  ): O {
    this.#parts.recorder.record({
      ...message,
      deviceId: (target ?? key).id,
      sender: key.address,
      outcome: outcome.kind,
      reason: outcome.kind === 'refused' ? reasonOf(outcome) : outcome.reason,
    })
    return outcome
  }

  #kept(
    key: RegisteredDevice,
    device: RegisteredDevice,
    { receivedAt, door, mediaType, tail, topic, body }: ReceivedMessage,
    outcome: KeptMessage['outcome'],
    stored: number,
    reason: string,
  ): KeptMessage {
    const id = this.#parts.number(receivedAt)
    const sender = key.address
    const deviceId = device.id
    // Stated one by one: spreading is felt where every message passes.
    return { id, receivedAt, door, deviceId, sender, mediaType, tail, topic, body, outcome, stored, reason }
  }

  /** Suggests signals for what is not known yet. @returns whether there are more signals now */
  async #suggest({ records, owners }: OwnedRecords): Promise<boolean> {
    const { registry, listener } = this.#parts
    let more = false
    for (const owner of new Set(owners)) {
      if (!owner) continue
      const own = owners.every((other) => other === owner)
        ? records
        : records.filter((_, index) => owners[index] === owner)
      const unknown = unknownFields(own, owner.signals)
      if (unknown.length === 0) continue
      const known = await registry.suggest(owner, unknown)
      more ||= known.signals.size !== owner.signals.size
    }
    if (more) listener.devicesChanged()
    return more
  }
}

async function persist<T>(store: () => Promise<T>, tryAgain: TryAgain): Promise<T> {
  while (true) {
    try {
      return await store()
    } catch (error) {
      if (!(await tryAgain(error))) throw error
    }
  }
}

const throttledBy = (throttled: Throttled) => ({ kind: 'throttled', ...throttled }) as const

/** Why a message was refused, as it stands in lists. */
export const reasonOf = ({ refused, detail }: Pick<Refused, 'refused' | 'detail'>): string =>
  refused.length > 0 ? inShort(refused) : detail

/** The first refusal, as it stands in lists. */
export const inShort = ([first]: readonly Refusal[]): string =>
  first ? `${fieldLabel(first.field)}: ${first.reason}` : ''

function summarize(refused: readonly Refusal[]): string {
  const [first] = refused
  if (!first) return 'Nothing in the message could be stored.'
  const more = refused.length > 1 ? ` (and ${refused.length - 1} more, listed in "refused")` : ''
  return `${first.field}: ${first.reason}${more}.`
}
