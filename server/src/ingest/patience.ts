import type { Throttled } from '../devices/throttle.ts'
import { isStoreAway } from '../store/databaseError.ts'
import { Overloaded } from './groupCommit.ts'

/** What a door does about a message that cannot be taken just now, where it can do better than say so. */
export interface Patience {
  /** Asked while the store takes nothing: whether to try once more. It may take its time. */
  tryAgain?(error: unknown): Promise<boolean>
  /** Asked while the device is over its allowance: whether to look once more. It may take its time. */
  holdBack?(throttled: Throttled): Promise<boolean>
}

/** Where nobody is asked whether to try again, nothing stands between. */
export const persist = <T>(store: () => Promise<T>, patience: Patience): Promise<T> =>
  patience.tryAgain ? insist(store, patience) : store()

async function insist<T>(store: () => Promise<T>, patience: Patience): Promise<T> {
  while (true) {
    try {
      return await store()
    } catch (error) {
      const isWorthIt = isStoreAway(error) || error instanceof Overloaded
      if (!isWorthIt || !(await patience.tryAgain?.(error))) throw error
    }
  }
}

/** Draws from the allowance again, as long as the door holds the message back. @returns why it is turned away, if it is */
export async function heldBack(
  first: Throttled,
  draw: () => Throttled | undefined,
  patience: Patience,
): Promise<Throttled | undefined> {
  let throttled: Throttled | undefined = first
  // What is too large by itself does not become smaller.
  while (throttled && throttled.retryAfter !== null && (await patience.holdBack?.(throttled)))
    throttled = draw()
  return throttled
}
