import type { PastMessage } from './history.ts'

/** How a board reaches the server. */
export interface Line {
  /** @throws when the messages did not get there, all of them */
  send(messages: readonly PastMessage[]): Promise<void>
  close(): void
}
