import type { ProblemKind } from '@jaunty-sparrow/contract'
import type { Refusal } from '@jaunty-sparrow/core/interpret'
import type { Throttled } from '../devices/throttle.ts'

export interface Stored {
  readonly kind: 'stored'
  readonly stored: number
  /** How many of them were not there already; counted for files only, and the same elsewhere. */
  readonly fresh: number
  readonly refused: readonly Refusal[]
}

export interface Refused {
  readonly kind: 'refused'
  readonly problem: ProblemKind
  readonly detail: string
  readonly refused: readonly Refusal[]
}

/** What came of a message, for its door to say in the door's own language. */
export type Outcome =
  | Stored
  | Refused
  | ({ readonly kind: 'throttled' } & Throttled)
  /** Nobody has claimed its topic; it was kept until somebody does. */
  | UnclaimedMessage

/** Nobody has claimed what it is of. */
export interface UnclaimedMessage {
  readonly kind: 'unclaimed'
}
