import type { PastMessage } from './history.ts'
import type { SaidToCommand, ToldCommand } from './obedience.ts'

/** What a board does with what it is told; it says nothing to what it misses. */
export type Take = (command: ToldCommand) => Promise<SaidToCommand | undefined>

/** How a board reaches the server. */
export interface Line {
  /** @throws when the messages did not get there, all of them */
  send(messages: readonly PastMessage[]): Promise<void>
  /** Lets the board be told what is asked of it, where its line goes both ways. */
  listen?(take: Take): void
  close(): void
}
