import type { StandIn } from './creamery/standIn.ts'
import { hour, isWithin, type Story } from './creamery/story.ts'

/** One message of the past, with the time it was measured at. */
export type PastMessage = Readonly<Record<string, unknown>> & { readonly t: number }

/**
 * What a device said between two instants: sparsely first, and for the last hour as often as it speaks when it runs.
 * @param from epoch ms, not included
 * @param to epoch ms, not included
 */
export function* pastMessages(
  device: StandIn,
  story: Story,
  from: number,
  to: number,
): Generator<PastMessage> {
  const closeUp = to - hour
  const firstStep = from >= closeUp ? device.period : device.historyPeriod
  let at = Math.ceil((from + 1) / firstStep) * firstStep
  while (at < to) {
    if (device.hasBattery || !isWithin(at, story.powerCut)) yield { ...device.message(at, story), t: at }
    const step = at >= closeUp ? device.period : device.historyPeriod
    at = Math.floor(at / step) * step + step
  }
}
