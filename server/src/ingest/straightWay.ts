import {
  type Believed,
  believed,
  interpret,
  type LastOf,
  type Refusal,
  type SignalsOf,
} from '@jaunty-sparrow/core/interpret'
import type { FieldRecord } from '@jaunty-sparrow/core/message'
import type { Reading } from '@jaunty-sparrow/core/signal'
import { longest, presentable, textProblem } from '@jaunty-sparrow/core/text'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import type { Drops } from '../devices/drops.ts'
import type { RegisteredDevice } from '../devices/registeredDevice.ts'
import type { Throttle, Throttled } from '../devices/throttle.ts'
import type { Faults } from '../life/faults.ts'
import type { KeptMessage } from '../messages/keptMessage.ts'
import type { RefusalRecorder } from '../messages/recorder.ts'
import { isStoreAway } from '../store/databaseError.ts'
import type { ServerNumber } from '../store/serverNumber.ts'
import { contradicted } from './contradicted.ts'
import type { DecodedMessage } from './decodeMessage.ts'
import { type Decoding, largestHere } from './decoding.ts'
import { type GroupCommit, Overloaded, Unstorable } from './groupCommit.ts'
import type { Listener } from './listener.ts'
import type { Outcome, Refused, Stored, UnclaimedMessage } from './outcome.ts'
import { claimedBy, distinctOwners, ownedRecords, type Sender } from './ownedRecords.ts'
import { heldBack, type Patience, persist } from './patience.ts'
import type { ReceivedMessage } from './receivedMessage.ts'
import { inShort, reasonOf, summarize } from './refusalWords.ts'
import { suggest } from './suggesting.ts'
import { Turns } from './turns.ts'

/** A message that was read: what is to be stored of it, and whose it is. */
export interface ReadMessage {
  readonly kind: 'read'
  readonly readings: readonly Reading[]
  readonly refused: readonly Refusal[]
  readonly owners: readonly RegisteredDevice[]
  /** What they were read out of, so that it can be told field by field. */
  readonly records: readonly FieldRecord[]
  readonly signalsOf: SignalsOf
  readonly receivedAt: number
  readonly range: Believed
}

/** A message may begin so many months at most of which nothing is stored yet: each takes a table of its own. */
const mostMonthsBegun = 24

/**
 * How far instants may run ahead of the clock when a device says more than one message a millisecond, ms. When the clock is
 * set back by more, instants follow it.
 */
const mostAhead = 1000

interface StraightWayParts {
  readonly registry: DeviceRegistry
  readonly commit: Pick<GroupCommit, 'submit'>
  readonly decoding: Pick<Decoding, 'read'>
  readonly listener: Listener
  readonly recorder: Pick<RefusalRecorder, 'record'>
  readonly throttle: Throttle
  readonly drops: Drops
  readonly faults: Faults
  /** Numbers a message, in the order of arrival. */
  readonly number: (receivedAt: number) => number
  /** Whether messages can be numbered just now. */
  readonly numbering: Pick<ServerNumber, 'isHeld' | 'held'>
  /** Puts right what is said of a message in the store. */
  readonly correct: (message: KeptMessage) => Promise<void>
  /** How many months readings would begin that hold nothing yet. */
  readonly monthsBegun: (readings: readonly Reading[]) => number
  /** The reading of a signal that was committed last. */
  readonly lastOf: LastOf
  /** Whether the clock of this server is doubted. */
  readonly isClockDoubted: () => boolean
  /** An instant that is known to have been, epoch ms: our own clock may have been set back. */
  readonly newestKnown: () => number
}

/**
 * decode → map → convert → judge → commit → publish: the one way of every message, whichever door it came through.
 * The door answers when `receive` resolves, which is after the commit.
 */
export class StraightWay {
  readonly #parts: StraightWayParts
  /** When each device was last heard, epoch ms. */
  readonly #lastInstants = new Map<number, number>()
  readonly #large = new Turns()

  constructor(parts: StraightWayParts) {
    this.#parts = parts
  }

  /**
   * Holds a message to the allowance of its device when it comes to its door, where it waits there for long, or goes elsewhere.
   * @returns undefined when it may pass; else it was turned away
   */
  admit(
    key: RegisteredDevice,
    message: ReceivedMessage,
    patience: Patience = {},
  ): Promise<Throttled | undefined> | undefined {
    const { registry, throttle } = this.#parts
    const kept = message.body.length
    const bytes = message.wireBytes ?? kept
    // It may be raised while the message is held back.
    const first = throttle.message(registry.present(key), bytes, kept)
    if (!first) return undefined
    return heldBack(first, () => throttle.message(registry.present(key), bytes, kept), patience).then(
      (throttled) => {
        if (throttled) this.#turnAway({ key, target: undefined }, message, throttledBy(throttled))
        return throttled
      },
    )
  }

  /**
   * @param key the device whose credential the message came with
   * @param patience for a door that can hold a message back, or whose messages nobody sends again: however often they have to
   *   be stored, they keep their instant, and are held to its allowance once
   * @throws Overloaded, or what the store threw, when nothing can be taken just now; then nothing of the message is acknowledged
   */
  async receive(key: RegisteredDevice, sent: ReceivedMessage, patience: Patience = {}): Promise<Outcome> {
    const receivedAt = this.#instant(key, sent.receivedAt)
    const mediaType = presentable(sent.mediaType, longest.mediaType)
    const isAsSent = receivedAt === sent.receivedAt && mediaType === sent.mediaType
    const message = isAsSent ? sent : { ...sent, receivedAt, mediaType }
    const own = { key, target: undefined }
    if (!message.byHand && !message.admitted) {
      const held = this.admit(key, message, patience)
      const throttled = held && (await held)
      if (throttled) return throttledBy(throttled)
    }
    const misplaced = textProblem(message.tail, longest.tail) ?? textProblem(message.topic, longest.topic)
    if (misplaced) return this.#turnAway(own, message, refusedFor(`Where it was sent to ${misplaced}.`))
    if (message.topic === '') return this.#take(own, message, patience)
    const claimed = claimedBy(this.#parts.registry, key, message)
    if (claimed) {
      const { sender, message: its } = claimed
      return this.#take(sender, its, patience)
    }
    try {
      return await this.#keepUnclaimed(key, message, patience)
    } catch (error) {
      return this.#unstorable(own, message, error)
    }
  }

  /** Where too many large ones wait to be read, this one is tried again, if its door has the patience. */
  async #readLater(sent: ReceivedMessage, error: unknown, patience: Patience): Promise<DecodedMessage> {
    if (!(await patience.tryAgain?.(error))) throw error
    return persist(async () => this.#parts.decoding.read(sent, sent.receivedAt), patience)
  }

  /** Without a number of its own the server numbers nothing. */
  #numbered(patience: Patience): Promise<void> {
    return persist(() => this.#parts.numbering.held(), patience)
  }

  async #keepUnclaimed(
    key: RegisteredDevice,
    message: ReceivedMessage,
    patience: Patience,
  ): Promise<Outcome> {
    await this.#numbered(patience)
    const kept = this.#kept(key, key, message, 'unclaimed', 0, '')
    await persist(() => this.#parts.commit.submit({ message: kept, readings: [] }), patience)
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
    message: Pick<ReceivedMessage, 'mediaType' | 'body' | 'tail' | 'receivedAt' | 'byHand'>,
    decoded?: DecodedMessage,
  ): Promise<ReadMessage | Refused | UnclaimedMessage> {
    const { registry, decoding, newestKnown, monthsBegun, lastOf, isClockDoubted } = this.#parts
    const { receivedAt, byHand = false } = message
    const taken = decoded ?? (await decoding.read(message, receivedAt))
    let owned = ownedRecords(registry, sender, taken)
    if ('problem' in owned) return { kind: 'refused', ...owned, refused: [] }
    if (owned.unclaimed) return { kind: 'unclaimed' }
    if (await suggest(this.#parts, owned)) owned = ownedRecords(registry, sender, taken)
    if ('problem' in owned) return { kind: 'refused', ...owned, refused: [] }
    const range = believed(receivedAt, byHand, newestKnown(), isClockDoubted())
    // What comes from the past is compared with nothing that is stored now.
    const { readings, refused } = interpret(
      owned.records,
      owned.signalsOf,
      receivedAt,
      range,
      byHand ? undefined : lastOf,
    )
    if (readings.length === 0 && refused.length > 0)
      return { kind: 'refused', problem: 'nothing-stored', detail: summarize(refused), refused }
    if (!byHand && readings.length > mostMonthsBegun && monthsBegun(readings) > mostMonthsBegun)
      return refusedFor(
        `Its times reach over more than ${mostMonthsBegun} months of which nothing is stored yet; check the board's clock, or bring them as a file.`,
      )
    const { records, signalsOf } = owned
    const owners = distinctOwners(owned)
    return { kind: 'read', readings, refused, owners, records, signalsOf, receivedAt, range }
  }

  /**
   * Takes a message, again where its door holds it back. Read, a large one takes many times its bytes, so it is put down while
   * it waits, and one is read and stored after the other.
   */
  async #take(sender: Sender, message: ReceivedMessage, patience: Patience): Promise<Outcome> {
    try {
      while (true) {
        const outcome = await (message.body.length > largestHere
          ? this.#large.take(() => this.#attempt(sender, message, patience))
          : this.#attempt(sender, message, patience))
        if (outcome.kind !== 'throttled') return outcome
        if (outcome.retryAfter === null || !(await patience.holdBack?.(outcome)))
          return this.#turnAway(sender, message, outcome)
      }
    } catch (error) {
      return this.#unstorable(sender, message, error)
    }
  }

  /** What goes wrong with a message alone is refused in words; what keeps all of them from being stored is thrown. */
  #unstorable(sender: Sender, message: ReceivedMessage, error: unknown): Refused {
    if (isStoreAway(error) || error instanceof Overloaded) throw error
    if (!(error instanceof Unstorable)) this.#parts.faults.note(`a message by ${message.door}`, error)
    const said = error instanceof Error ? error.message : String(error)
    return this.#turnAway(sender, message, refusedFor(`The message could not be stored: ${said}.`))
  }

  async #attempt(sender: Sender, sent: ReceivedMessage, patience: Patience): Promise<Outcome> {
    const { registry, commit, decoding, listener, throttle } = this.#parts
    const reading = decoding.read(sent, sent.receivedAt)
    const decoded =
      reading instanceof Promise
        ? await reading.catch((error: unknown) => this.#readLater(sent, error, patience))
        : reading
    const { mediaType } = decoded
    const message = mediaType === sent.mediaType ? sent : { ...sent, mediaType }
    const read = await persist(() => this.read(sender, message, decoded), patience)
    if (read.kind === 'refused') return this.#turnAway(sender, message, read)
    if (read.kind === 'unclaimed') return this.#keepUnclaimed(sender.key, message, patience)
    const { readings, refused, owners } = read
    const { byHand = false } = message
    const tooMany = byHand ? undefined : throttle.readings(registry.present(sender.key), readings.length)
    if (tooMany) return throttledBy(tooMany)
    if (!this.#parts.numbering.isHeld) await this.#numbered(patience)
    const [only = sender.key, another] = owners
    const kept = this.#kept(
      sender.key,
      another ? sender.key : only,
      message,
      refused.length === 0 ? 'stored' : 'partly',
      readings.length,
      inShort(refused),
    )
    const { fresh, otherwise } = await persist(
      () => commit.submit({ message: kept, readings, alone: byHand }),
      patience,
    )
    if (!byHand) for (const owner of owners) registry.arrived(owner, message.receivedAt)
    const told = otherwise.length === 0 ? undefined : contradicted(read, otherwise)
    if (!told || told.refused.length === 0) {
      listener.readings(readings, byHand)
      listener.arrived(kept)
      return { kind: 'stored', stored: readings.length, fresh: byHand ? fresh : readings.length, refused }
    }
    const allRefused = [...refused, ...told.refused]
    const { standing } = told
    const corrected: KeptMessage = {
      ...kept,
      outcome: 'partly',
      stored: standing.length,
      reason: presentable(inShort(allRefused), longest.reason),
    }
    listener.readings(standing, byHand)
    listener.arrived(corrected)
    this.#parts.faults.watch('what is said of a message', this.#parts.correct(corrected))
    return {
      kind: 'stored',
      stored: standing.length,
      fresh: byHand ? fresh : standing.length,
      refused: allRefused,
    }
  }

  #turnAway<O extends Exclude<Outcome, Stored | UnclaimedMessage>>(
    { key, target }: Sender,
    message: ReceivedMessage,
    outcome: O,
  ): O {
    const { door, receivedAt, mediaType, tail, topic, body, byHand = false } = message
    // Where its sender is told, it will send it again; at these doors it is gone.
    if (outcome.kind === 'throttled' && (door === 'mqtt' || door === 'serial'))
      this.#parts.drops.count(key.id, receivedAt, outcome.reason)
    this.#parts.recorder.record({
      door,
      receivedAt,
      mediaType,
      tail,
      topic,
      byHand,
      body,
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
    { receivedAt, door, mediaType, tail, topic, body, byHand = false }: ReceivedMessage,
    outcome: KeptMessage['outcome'],
    stored: number,
    reason: string,
  ): KeptMessage {
    const id = this.#parts.number(receivedAt)
    const sender = key.address
    const deviceId = device.id
    // Stated one by one: spreading is felt where every message passes.
    const said = presentable(reason, longest.reason)
    return {
      id,
      receivedAt,
      door,
      deviceId,
      sender,
      mediaType,
      tail,
      topic,
      byHand,
      body,
      outcome,
      stored,
      reason: said,
    }
  }
}

const refusedFor = (detail: string): Refused => ({
  kind: 'refused',
  problem: 'nothing-stored',
  detail,
  refused: [],
})

const throttledBy = (throttled: Throttled) => ({ kind: 'throttled', ...throttled }) as const
