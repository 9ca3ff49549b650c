import type { Reading } from '@jaunty-sparrow/core/signal'
import type { KeptMessage } from '../messages/keptMessage.ts'

/** Told of what was committed, after it was. */
export interface Listener {
  readings(readings: readonly Reading[], byHand: boolean): void
  arrived(message: KeptMessage): void
  deviceChanged(address: string): void
}
