import type { Rereading, RereadSignal } from '@jaunty-sparrow/contract'
import { believed, instantOf, interpret, type Stored } from '@jaunty-sparrow/core/interpret'
import { type RereadChange, rereadChanges } from '@jaunty-sparrow/core/rereading'
import type { Reading } from '@jaunty-sparrow/core/signal'
import type pg from 'pg'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import type { RegisteredDevice } from '../devices/registeredDevice.ts'
import type { Decoding } from '../ingest/decoding.ts'
import { distinctOwners, ownedRecords, senderOf } from '../ingest/ownedRecords.ts'
import type { KeptMessage } from '../messages/keptMessage.ts'
import type { MessageStore } from '../messages/messageStore.ts'
import type { LargeChanges } from '../readings/largeChanges.ts'
import type { ReadingChanges } from '../readings/readingChanges.ts'
import type { ReadingStore } from '../readings/readingStore.ts'
import type { Database } from '../store/database.ts'
import type { Counts, RereadingStore } from './rereadingStore.ts'

/** How many messages, or how many instants of them, are compared with what is stored at a time. */
const messagesPerStep = 500
const instantsPerStep = 5000

const examplesOfEach = 3

interface ReadingAgainParts {
  readonly database: Database
  readonly registry: DeviceRegistry
  readonly messages: MessageStore
  readonly readings: ReadingStore
  readonly changes: ReadingChanges
  readonly large: LargeChanges
  readonly rereadings: RereadingStore
  readonly decoding: Decoding
}

interface ReadAll {
  readonly kind: 'read-again'
  readonly rereadingId: number
  readonly deviceId: number
  readonly upTo: number
}

/** The last message that is done. */
interface ReadUpTo {
  readonly after: number
}

interface UndoAll {
  readonly kind: 'undo-rereading'
  readonly rereadingId: number
}

/** Runs the kept messages of a device through again, after something about its signals was put right. */
export class ReadingAgain {
  readonly #parts: ReadingAgainParts

  constructor(parts: ReadingAgainParts) {
    this.#parts = parts
    parts.large.carryOut<ReadAll, ReadUpTo>('read-again', (client, what, progress) =>
      this.#readPiece(client, what, progress),
    )
    parts.large.carryOut<UndoAll, { begun: true }>('undo-rereading', (client, what) =>
      this.#undoPiece(client, what),
    )
  }

  /** What it would do, with nothing done yet. */
  async preview(
    device: RegisteredDevice,
  ): Promise<{ upTo: number; messages: number; signals: RereadSignal[] }> {
    const upTo = await this.#parts.messages.newest(device.id)
    const signals = new Map<number, RereadSignal>()
    let messages = 0
    const last: LastRead = new Map()
    for (
      let step = await this.#step(device, 0, upTo, last);
      step;
      step = await this.#step(device, step.last, upTo, last)
    ) {
      messages += step.messages
      for (const { signal, at, before, after } of await this.#changes(step)) {
        const seen = signals.get(signal) ?? {
          signalId: signal,
          added: 0,
          changed: 0,
          removed: 0,
          examples: [],
        }
        signals.set(signal, seen)
        seen[kindOf({ before, after })]++
        if (seen.examples.length < examplesOfEach)
          seen.examples.push({ at, before: before?.value ?? null, after: after?.value ?? null })
      }
    }
    return { upTo, messages, signals: [...signals.values()] }
  }

  /** Does it, piece by piece; what was interrupted goes on by itself. */
  async apply(device: RegisteredDevice, upTo: number): Promise<Rereading> {
    const { database, large, rereadings } = this.#parts
    const { rereadingId, job } = await database.transaction(async (tx) => {
      const rereadingId = await rereadings.begin(tx, device.id)
      const what: ReadAll = { kind: 'read-again', rereadingId, deviceId: device.id, upTo }
      return { rereadingId, job: await large.takeDown(tx, what) }
    })
    await large.run(job)
    return rereadings.find(rereadingId)
  }

  /** Puts back what it did, piece by piece. @returns false when there is none such, or it was undone already */
  async undo(rereadingId: number): Promise<boolean> {
    const { database, large, rereadings } = this.#parts
    const job = await database.transaction(async (tx) => {
      if (!(await rereadings.markUndone(tx, rereadingId))) return undefined
      return large.takeDown(tx, { kind: 'undo-rereading', rereadingId } satisfies UndoAll)
    })
    if (job === undefined) return false
    await large.run(job)
    return true
  }

  async #readPiece(
    client: pg.ClientBase,
    { rereadingId, deviceId, upTo }: ReadAll,
    { after }: ReadUpTo = { after: 0 },
  ): Promise<ReadUpTo | null> {
    const { registry, rereadings, changes } = this.#parts
    const device = registry.byId(deviceId)
    const step = device && (await this.#step(device, after, upTo, new Map()))
    if (!step) return null
    const changed = await this.#changes(step)
    const counts: Counts = { messages: step.messages, added: 0, changed: 0, removed: 0 }
    for (const change of changed) counts[kindOf(change)]++
    await rereadings.remember(client, rereadingId, changed, counts)
    await changes.correct(client, changed)
    return { after: step.last }
  }

  async #undoPiece(client: pg.ClientBase, { rereadingId }: UndoAll): Promise<{ begun: true } | null> {
    const { rereadings, readings, changes } = this.#parts
    const back = await rereadings.takeBack(client, rereadingId, readings)
    if (!back) return null
    await changes.correct(client, back)
    return { begun: true }
  }

  /** Reads the messages after one, in the order they came in, as many as fit. @returns undefined when there are none */
  async #step(
    device: RegisteredDevice,
    after: number,
    upTo: number,
    last: LastRead,
  ): Promise<Step | undefined> {
    const step = new Step(after)
    while (true) {
      const page = await this.#parts.messages.page(device.id, { after: step.last, upTo })
      if (page.length === 0) return step.last === after ? undefined : step
      for (const message of page) {
        // What came in with the same millisecond is told apart by nothing, so it stays together.
        if (step.isFull && !step.receivedAt.has(message.receivedAt)) return step
        await this.#add(step, device, message, last)
        step.last = message.id
      }
    }
  }

  async #add(step: Step, device: RegisteredDevice, message: KeptMessage, last: LastRead): Promise<void> {
    const sender = senderOf(this.#parts.registry, device, message)
    if (!sender || message.outcome === 'throttled') return
    const decoded = await this.#parts.decoding.read(message, message.receivedAt)
    const owned = ownedRecords(this.#parts.registry, sender, decoded)
    if ('problem' in owned) return
    const range = believed(message.receivedAt, message.byHand)
    step.messages++
    step.receivedAt.add(message.receivedAt)
    for (const record of owned.records) {
      const at = instantOf(record, message.receivedAt, range)
      if (typeof at === 'number') step.instants.add(at)
    }
    const { readings } = interpret(owned.records, owned.signalsOf, message.receivedAt, range, (signal) =>
      last.get(signal),
    )
    for (const reading of readings) {
      step.readings.push(reading)
      last.set(reading.signal, reading)
    }
    for (const { signals } of distinctOwners(owned)) {
      // What an ignored signal has stored is let be.
      for (const { signal, definition } of signals)
        if (definition.state !== 'ignored') step.signals.add(signal)
    }
  }

  async #changes({ readings, signals, instants, receivedAt }: Step): Promise<RereadChange[]> {
    const stored = await this.#parts.readings.at([...signals], [...instants])
    const thinned = this.#parts.registry.thinned()
    // Of a signal that is stored thinner, what is there is put right; which readings are there stays as it was.
    return rereadChanges(readings, stored, receivedAt).filter(
      ({ signal, before, after }) => !thinned.has(signal) || (before !== null && after !== null),
    )
  }
}

/** What was read last of each signal. */
type LastRead = Map<number, Stored>

/** What some messages say now, and which signals they could have written to. */
class Step {
  messages = 0
  readonly readings: Reading[] = []
  readonly signals = new Set<number>()
  readonly instants = new Set<number>()
  readonly receivedAt = new Set<number>()
  /** The last message that is in it. */
  last: number

  constructor(after: number) {
    this.last = after
  }

  get isFull(): boolean {
    return this.messages >= messagesPerStep || this.instants.size >= instantsPerStep
  }
}

const kindOf = ({
  before,
  after,
}: Pick<RereadChange, 'before' | 'after'>): 'added' | 'changed' | 'removed' =>
  before === null ? 'added' : after === null ? 'removed' : 'changed'
