import type { Arrival } from '@jaunty-sparrow/contract'
import throttle from 'lodash-es/throttle.js'
import { arrivalOf, type KeptMessage } from '../messages/keptMessage.ts'

/** Arrivals that one server tells the others of, and how many more there were. */
export interface ArrivalsNotice {
  readonly kind: 'arrivals'
  readonly arrivals: readonly Arrival[]
  readonly skipped: number
}

/** ms between two notices. */
const interval = 250

/** Of a long reason the beginning tells the story; the whole stands with the message. */
const longestReason = 200

/** Gathers what came in for the other servers: a notice every quarter of a second at most, as long as a notice may be. */
export class ArrivalNotices {
  readonly #room: number
  readonly #tell: (notice: ArrivalsNotice) => void
  #gathered: Arrival[] = []
  #length = 0
  #skipped = 0

  /** @param room bytes that the arrivals of a notice may take */
  constructor(room: number, tell: (notice: ArrivalsNotice) => void) {
    this.#room = room
    this.#tell = tell
  }

  add(message: KeptMessage): void {
    const arrival = arrivalOf({ ...message, reason: message.reason.slice(0, longestReason) })
    const length = this.#length < this.#room ? Buffer.byteLength(JSON.stringify(arrival)) + 1 : this.#room
    if (this.#length + length > this.#room) this.#skipped++
    else {
      this.#gathered.push(arrival)
      this.#length += length
    }
    this.#flush()
  }

  close(): void {
    this.#flush.cancel()
  }

  readonly #flush = throttle(() => {
    this.#tell({ kind: 'arrivals', arrivals: this.#gathered, skipped: this.#skipped })
    this.#gathered = []
    this.#length = 0
    this.#skipped = 0
  }, interval)
}
