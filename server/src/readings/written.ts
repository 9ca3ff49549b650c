import type { Reading } from '@jaunty-sparrow/core/signal'
import type { KeptMessage } from '../messages/keptMessage.ts'

/** What is stored for an instant already, and is something else than was sent. */
export type StoredOtherwise = Pick<Reading, 'signal' | 'at' | 'value'>

/** What came of a batch. */
export interface Written {
  /** How many readings were new. */
  readonly fresh: number
  readonly otherwise: readonly StoredOtherwise[]
}

/**
 * Stores readings and the messages they were in durably, or throws with nothing stored.
 * @param heard what came in, where not all of it is stored, or something else; else it is what is stored
 */
export type Write = (
  readings: readonly Reading[],
  messages: readonly KeptMessage[],
  heard?: readonly Reading[],
) => Promise<Written>
