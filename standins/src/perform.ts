import type { Board } from './creamery/standIn.ts'
import { minute, type Story } from './creamery/story.ts'
import type { PastMessage } from './history.ts'
import type { Line } from './line.ts'
import { Obedience } from './obedience.ts'
import { Refused } from './refused.ts'

/** What a board with a little memory keeps while nobody answers. */
const mostKept = 500

/**
 * Lets a board speak at its own pace, until it is stopped. What cannot be delivered is kept and sent with the next
 * message, as a board with a little memory would.
 * @returns a function that stops it
 */
export function perform(board: Board, line: Line, story: Story, now: () => number): () => void {
  const kept: PastMessage[] = []
  const obedience = board.obeys && new Obedience(board.obeys, Math.random)
  if (obedience)
    line.listen?.(async (command) => {
      await new Promise((done) => setTimeout(done, obedience.delay))
      return obedience.obey(command, now())
    })
  let timer: NodeJS.Timeout
  const speak = async (at: number): Promise<void> => {
    const said = board.message(at, story)
    kept.push({ ...(obedience?.applied(said, at) ?? said), t: at })
    if (kept.length > mostKept) kept.shift()
    if (kept.length < (board.together ?? 1)) return schedule(0)
    const sending = [...kept]
    try {
      await line.send(sending)
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
    const next = Math.floor(now() / board.period + 1) * board.period
    timer = setTimeout(() => void speak(next), next - now() + pause)
  }
  schedule(0)
  return () => {
    clearTimeout(timer)
    line.close()
  }
}
