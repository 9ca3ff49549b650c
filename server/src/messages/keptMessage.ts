import type { Arrival, ArrivalOutcome, DoorName } from '@jaunty-sparrow/contract'
import { mostServers } from '../store/serverNumber.ts'

/** A message as it is kept: what was sent, by whom, and what came of it. */
export interface KeptMessage {
  readonly id: number
  /** Epoch ms. */
  readonly receivedAt: number
  readonly door: DoorName
  /** Whose it is; null when the sender was not recognized. */
  readonly deviceId: number | null
  /** Whose key it came with, or whom a stranger said to be. */
  readonly sender: string
  readonly mediaType: string
  readonly tail: string
  /** The topic, when it was not below the sender's own address; else empty. */
  readonly topic: string
  /** Whether a person brought it from the past: it tells nothing of what is now. */
  readonly byHand: boolean
  readonly body: Uint8Array
  readonly outcome: ArrivalOutcome
  readonly stored: number
  readonly reason: string
}

/** How a message is told of in lists. */
export const arrivalOf = ({ body, ...rest }: KeptMessage): Arrival => ({ ...rest, size: body.length })

/** Numbers stay whole in JavaScript up to the year 2248. */
const perMillisecond = 1024

/** The first number that a message has which came in at an instant, epoch ms. */
export const firstNumberAt = (receivedAt: number): number => receivedAt * perMillisecond

/**
 * Numbers messages in the order they came in: the milliseconds of their arrival, a count within them, and the server, so
 * that no two servers on one database give the same number.
 */
export class MessageNumbers {
  #last: number
  readonly #server: () => number

  /**
   * @param last the number of the newest message there is: the clock may have been set back since
   * @param server the number of this server just now; throws while it has none
   */
  constructor(last = 0, server = () => 0) {
    this.#last = last - (last % mostServers)
    this.#server = server
  }

  readonly next = (receivedAt: number): number => {
    const server = this.#server()
    this.#last = Math.max(firstNumberAt(receivedAt), this.#last + mostServers)
    return this.#last + server
  }
}
