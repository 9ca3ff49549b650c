import type { Device } from '@jaunty-sparrow/contract'
import type { StandIn } from './creamery/standIn.ts'
import { day, type Story } from './creamery/story.ts'
import { type PastMessage, pastMessages } from './history.ts'
import type { Line } from './line.ts'

const historyLength = 30 * day

/** Messages in one request: well within the size a door takes. */
const messagesPerRequest = 2000

interface Backfill {
  readonly standIn: StandIn
  readonly device: Device
  readonly line: Line
}

/**
 * Sends what the devices would have said since they were last heard, over HTTP, as a backlog.
 * @param progress called with the share that is done, 0..1
 */
export async function backfill(
  devices: readonly Backfill[],
  story: Story,
  now: number,
  progress: (share: number) => void,
): Promise<void> {
  const spans = devices.map(({ device }) => {
    const known = device.signals.flatMap(({ latest }) => latest?.at ?? [])
    return Math.max(now - historyLength, ...known)
  })
  const total = spans.reduce((sum, from) => sum + now - from, 0)
  let done = 0
  for (const [index, { standIn, line }] of devices.entries()) {
    const from = spans[index] as number
    let batch: PastMessage[] = []
    let sending: Promise<void> = Promise.resolve()
    const flush = async () => {
      // While one request is being stored the next one is made up.
      await sending
      sending = line.send(batch)
      progress((done + ((batch.at(-1)?.t ?? from) - from)) / total)
      batch = []
    }
    for (const message of pastMessages(standIn, story, from, now)) {
      batch.push(message)
      if (batch.length === messagesPerRequest) await flush()
    }
    if (batch.length > 0) await flush()
    await sending
    done += now - from
  }
  progress(1)
}
