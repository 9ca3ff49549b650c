import type { DeviceRegistry, RegisteredDevice } from '../ingest/deviceRegistry.ts'
import { type Claimed, claimedBy } from '../ingest/ownedRecords.ts'
import { inShort, type Listener, reasonOf, type StraightWay } from '../ingest/straightWay.ts'
import type { Intake } from '../store/intake.ts'
import type { MessageStore } from '../store/messages.ts'
import type { KeptMessage } from './keptMessage.ts'

interface TakingUpParts {
  readonly registry: DeviceRegistry
  readonly straightWay: StraightWay
  readonly intake: Intake
  readonly messages: MessageStore
  readonly listener: Listener
}

/** What came of it. */
export interface TakenUp {
  readonly messages: number
  readonly readings: number
}

/** Lets kept messages count that nobody had claimed when they came. They are counted against no limit. */
export class TakingUp {
  readonly #parts: TakingUpParts

  constructor(parts: TakingUpParts) {
    this.#parts = parts
  }

  /** Those this key has published to topics that are claimed now. */
  ofKey(key: RegisteredDevice): Promise<TakenUp> {
    return this.#takeUp(key.id, (message) => claimedBy(this.#parts.registry, key, message))
  }

  /** Those that were sent under the address of this device before there was one. */
  ofStranger(device: RegisteredDevice): Promise<TakenUp> {
    const sender = { key: device, target: device }
    return this.#takeUp(0, (message) => (message.sender === device.address ? { sender, message } : undefined))
  }

  async #takeUp(
    keptUnder: number,
    claimed: (message: KeptMessage) => Claimed<KeptMessage> | undefined,
  ): Promise<TakenUp> {
    const { straightWay, intake, messages, listener } = this.#parts
    const taken = { messages: 0, readings: 0 }
    let after = 0
    while (true) {
      const page = await messages.page(keptUnder, { after, outcome: 'unclaimed' })
      const last = page.at(-1)
      if (!last) return taken
      after = last.id
      const told: KeptMessage[] = []
      const readings = []
      for (const kept of page) {
        const found = claimed(kept)
        if (!found) continue
        const read = await straightWay.read(found.sender, found.message)
        const own = { ...found.message, deviceId: found.sender.target.id }
        if (read.kind === 'refused') told.push({ ...own, outcome: 'refused', reason: reasonOf(read) })
        else {
          const { refused } = read
          const outcome = refused.length === 0 ? 'stored' : 'partly'
          told.push({ ...own, outcome, stored: read.readings.length, reason: inShort(refused) })
          readings.push(...read.readings)
        }
      }
      // First the readings: were it to end here, the messages could be claimed again.
      await intake.write(readings, [])
      await messages.reassign(keptUnder, told)
      listener.readings(readings)
      taken.messages += told.length
      taken.readings += readings.length
    }
  }
}
