import { interpret } from '@jaunty-sparrow/core/interpret'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import type { RegisteredDevice } from '../devices/registeredDevice.ts'
import { firstNumberAt } from '../messages/keptMessage.ts'
import type { MessageStore } from '../messages/messageStore.ts'
import type { Decoding } from './decoding.ts'
import { ownedRecords, senderOf } from './ownedRecords.ts'
import type { Thinning } from './thinning.ts'

/** A message may be a little late, ms. */
const allowance = 60_000

interface ResumeParts {
  readonly registry: DeviceRegistry
  readonly messages: MessageStore
  readonly thinning: Thinning
  readonly decoding: Decoding
}

/**
 * Picks up the intervals that were open when the server stopped, out of the messages that are kept: what was acknowledged
 * counts, whether its interval was over or not.
 */
export async function resumeThinning({ registry, messages, thinning, decoding }: ResumeParts): Promise<void> {
  for (const device of registry.all()) {
    const longest = longestInterval(registry, device)
    if (longest === 0) continue
    const newest = await messages.newest(device.id)
    let after = newest - firstNumberAt(longest * 1000 + allowance)
    while (true) {
      const page = await messages.page(device.id, { after })
      const last = page.at(-1)
      if (!last) break
      after = last.id
      for (const message of page) {
        const sender = senderOf(registry, device, message)
        if (!sender || message.outcome === 'throttled') continue
        const owned = ownedRecords(registry, sender, await decoding.read(message, message.receivedAt))
        if ('problem' in owned) continue
        const { readings } = interpret(owned.records, owned.signalsOf, message.receivedAt)
        const open = readings.filter(({ signal }) => registry.thinned().get(signal)?.by === 'interval')
        await thinning.write(open, [])
      }
    }
  }
}

/** The longest interval that its messages may have left open, seconds; 0 for none. A gateway speaks for every device. */
function longestInterval(registry: DeviceRegistry, device: RegisteredDevice): number {
  const own = new Set(Array.from(device.signals, ({ signal }) => signal))
  const isGateway = device.claims.some(({ by }) => by === 'field')
  const intervals = [...registry.thinned()].flatMap(([signal, storing]) =>
    storing.by === 'interval' && (isGateway || own.has(signal)) ? storing.seconds : [],
  )
  return Math.max(0, ...intervals)
}
