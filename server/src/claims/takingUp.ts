import type { Reading } from '@jaunty-sparrow/core/signal'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import type { RegisteredDevice } from '../devices/registeredDevice.ts'
import type { Listener } from '../ingest/listener.ts'
import { claimedBy, type Sender } from '../ingest/ownedRecords.ts'
import { inShort, reasonOf } from '../ingest/refusalWords.ts'
import type { StraightWay } from '../ingest/straightWay.ts'
import type { KeptMessage } from '../messages/keptMessage.ts'
import type { MessageStore } from '../messages/messageStore.ts'
import type { ReadingChanges } from '../readings/readingChanges.ts'

interface TakingUpParts {
  readonly registry: DeviceRegistry
  readonly straightWay: StraightWay
  readonly changes: ReadingChanges
  readonly messages: MessageStore
  readonly listener: Listener
}

/** What came of it. */
export interface TakenUp {
  readonly messages: number
  readonly readings: number
}

/** Lets kept messages count that nobody had claimed when they came. They are counted against no allowance. */
export class TakingUp {
  readonly #parts: TakingUpParts

  constructor(parts: TakingUpParts) {
    this.#parts = parts
  }

  /** Those this key has published to topics that are claimed now, or whose records say in a field whose they are. */
  ofKey(key: RegisteredDevice): Promise<TakenUp> {
    return this.#takeUp(key.id, (message) =>
      message.topic === ''
        ? { sender: { key, target: undefined }, message }
        : claimedBy(this.#parts.registry, key, message),
    )
  }

  /** Those that were sent under the address of this device before there was one. */
  ofStranger(device: RegisteredDevice): Promise<TakenUp> {
    const sender = { key: device, target: device }
    return this.#takeUp(0, (message) => (message.sender === device.address ? { sender, message } : undefined))
  }

  async #takeUp(
    keptUnder: number,
    claimed: (message: KeptMessage) => { sender: Sender; message: KeptMessage } | undefined,
  ): Promise<TakenUp> {
    const { straightWay, changes, messages, listener } = this.#parts
    const taken = { messages: 0, readings: 0 }
    let after = 0
    while (true) {
      const page = await messages.page(keptUnder, { after, outcome: 'unclaimed' })
      const last = page.at(-1)
      if (!last) return taken
      after = last.id
      const told: KeptMessage[] = []
      const readings: Reading[] = []
      for (const kept of page) {
        const found = claimed(kept)
        if (!found) continue
        const read = await straightWay.read(found.sender, found.message)
        if (read.kind === 'unclaimed') continue
        const { key, target } = found.sender
        const [only, another] = read.kind === 'read' ? read.owners : []
        const own = { ...found.message, deviceId: (target ?? (another ? key : (only ?? key))).id }
        if (read.kind === 'refused') told.push({ ...own, outcome: 'refused', reason: reasonOf(read) })
        else {
          const { refused } = read
          const outcome = refused.length === 0 ? 'stored' : 'partly'
          told.push({ ...own, outcome, stored: read.readings.length, reason: inShort(refused) })
          for (const reading of read.readings) readings.push(reading)
        }
      }
      // First the readings: were it to end here, the messages could be claimed again.
      await changes.append(readings, [])
      await messages.reassign(keptUnder, told)
      listener.readings(readings, false)
      taken.messages += told.length
      taken.readings += readings.length
    }
  }
}
