import { type DeviceClient, Refused } from './client.ts'
import type { StandIn } from './creamery/standIn.ts'
import { minute, type Story } from './creamery/story.ts'
import type { PastMessage } from './history.ts'

/** What a board with a little memory keeps while nobody answers. */
const mostKept = 500

/**
 * Lets a device speak at its own pace, until it is stopped. What cannot be delivered is kept and sent with the next
 * message, as a board with a little memory would.
 * @returns a function that stops it
 */
export function perform(standIn: StandIn, client: DeviceClient, story: Story, now: () => number): () => void {
  const kept: PastMessage[] = []
  let timer: NodeJS.Timeout
  const speak = async (at: number): Promise<void> => {
    kept.push({ ...standIn.message(at, story), t: at })
    if (kept.length > mostKept) kept.shift()
    if (kept.length < (standIn.together ?? 1)) return schedule(0)
    const sending = [...kept]
    try {
      await client.send(sending.length === 1 ? sending[0] : sending)
      kept.splice(0, sending.length)
    } catch (error) {
      if (error instanceof Refused && error.status === 401) {
        // Its secret was replaced or it was deleted: a real board would go on trying, but less often.
        kept.length = 0
        return schedule(minute)
      }
    }
    schedule(0)
  }
  const schedule = (pause: number): void => {
    const next = Math.floor(now() / standIn.period + 1) * standIn.period
    timer = setTimeout(() => void speak(next), next - now() + pause)
  }
  schedule(0)
  return () => clearTimeout(timer)
}
