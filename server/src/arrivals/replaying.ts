import type { Replay, ReplayedSignal } from '@jaunty-sparrow/contract'
import { instantOf, interpret, type Reading, type ReplayChange, replayChanges } from '@jaunty-sparrow/core'
import type { DeviceRegistry, RegisteredDevice } from '../ingest/deviceRegistry.ts'
import { distinctOwners, ownedRecords, senderOf } from '../ingest/ownedRecords.ts'
import type { MessageStore } from '../store/messages.ts'
import type { ReadingStore } from '../store/readings.ts'
import type { ReplayStore } from '../store/replays.ts'
import type { KeptMessage } from './keptMessage.ts'

/** How many messages, or how many instants of them, are compared with what is stored at a time. */
const messagesPerStep = 500
const instantsPerStep = 5000

const examplesOfEach = 3

interface ReplayingParts {
  readonly registry: DeviceRegistry
  readonly messages: MessageStore
  readonly readings: ReadingStore
  readonly replays: ReplayStore
}

/** Runs the kept messages of a device through again, after something about its signals was put right. */
export class Replaying {
  readonly #parts: ReplayingParts

  constructor(parts: ReplayingParts) {
    this.#parts = parts
  }

  /** What a replay would do, with nothing done yet. */
  async preview(
    device: RegisteredDevice,
  ): Promise<{ upTo: number; messages: number; signals: ReplayedSignal[] }> {
    const upTo = await this.#parts.messages.newest(device.id)
    const signals = new Map<number, ReplayedSignal>()
    let messages = 0
    for await (const step of this.#steps(device, upTo)) {
      messages += step.messages
      for (const { signal, at, before, after } of step.changes) {
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

  /** Does it: altogether, or not at all. */
  apply(device: RegisteredDevice, upTo: number): Promise<Replay> {
    return this.#parts.replays.record(device.id, async (write) => {
      const counts = { messages: 0, added: 0, changed: 0, removed: 0 }
      for await (const step of this.#steps(device, upTo)) {
        counts.messages += step.messages
        for (const change of step.changes) counts[kindOf(change)]++
        await write(step.changes)
      }
      return counts
    })
  }

  /** Goes through the messages in the order they came in, as many at a time as fit. */
  async *#steps(
    device: RegisteredDevice,
    upTo: number,
  ): AsyncGenerator<{ messages: number; changes: ReplayChange[] }> {
    let after = 0
    let step = new Step()
    while (true) {
      const page = await this.#parts.messages.page(device.id, { after, upTo })
      for (const message of page) {
        // What came in with the same millisecond is told apart by nothing, so it stays together.
        if (step.isFull && !step.receivedAt.has(message.receivedAt)) {
          yield { messages: step.messages, changes: await this.#changes(step) }
          step = new Step()
        }
        this.#add(step, device, message)
      }
      const last = page.at(-1)
      if (!last) break
      after = last.id
    }
    if (step.messages > 0) yield { messages: step.messages, changes: await this.#changes(step) }
  }

  #add(step: Step, device: RegisteredDevice, message: KeptMessage): void {
    const sender = senderOf(this.#parts.registry, device, message)
    if (!sender || message.outcome === 'throttled') return
    const owned = ownedRecords(this.#parts.registry, sender, message, message.receivedAt)
    if ('problem' in owned) return
    step.messages++
    step.receivedAt.add(message.receivedAt)
    for (const record of owned.records) {
      const at = instantOf(record, message.receivedAt)
      if (typeof at === 'number') step.instants.add(at)
    }
    step.readings.push(...interpret(owned.records, owned.signalsOf, message.receivedAt).readings)
    for (const { signals } of distinctOwners(owned)) {
      // What an ignored signal has stored is let be.
      for (const { signal, definition } of signals.values())
        if (definition.state !== 'ignored') step.signals.add(signal)
    }
  }

  async #changes({ readings, signals, instants, receivedAt }: Step): Promise<ReplayChange[]> {
    const stored = await this.#parts.readings.at([...signals], [...instants])
    const thinned = this.#parts.registry.thinned()
    // Of a signal that is stored thinner, what is there is put right; which readings are there stays as it was.
    return replayChanges(readings, stored, receivedAt).filter(
      ({ signal, before, after }) => !thinned.has(signal) || (before !== null && after !== null),
    )
  }
}

/** What some messages say now, and which signals they could have written to. */
class Step {
  messages = 0
  readonly readings: Reading[] = []
  readonly signals = new Set<number>()
  readonly instants = new Set<number>()
  readonly receivedAt = new Set<number>()

  get isFull(): boolean {
    return this.messages >= messagesPerStep || this.instants.size >= instantsPerStep
  }
}

const kindOf = ({
  before,
  after,
}: Pick<ReplayChange, 'before' | 'after'>): 'added' | 'changed' | 'removed' =>
  before === null ? 'added' : after === null ? 'removed' : 'changed'
