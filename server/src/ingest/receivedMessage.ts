import type { DoorName } from '@jaunty-sparrow/contract'
import type { Message } from '@jaunty-sparrow/core/message'

/** A message with what its door knows of its coming. */
export interface ReceivedMessage extends Message {
  readonly door: DoorName
  /** Epoch ms. */
  readonly receivedAt: number
  readonly tail: string
  /** The topic, when it is not below the sender's own address; else empty. */
  readonly topic: string
  /** What came over the wire, bytes; where it was packed, that is less than the body. */
  readonly wireBytes?: number
  /** Whether a person brought it from the past: it is held to no allowance, and tells nothing of what is now. */
  readonly byHand?: boolean
  /** Whether it was held to its allowance already, when it came to its door. */
  readonly admitted?: boolean
}
