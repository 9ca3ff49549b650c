import { type Bucket, draw } from '@jaunty-sparrow/core/device'
import type { RegisteredDevice } from './registeredDevice.ts'

/** Why a message was not taken, and when trying again makes sense. */
export interface Throttled {
  readonly reason: string
  /** Whole seconds; null when waiting does not help. */
  readonly retryAfter: number | null
}

const minutesPerDay = 1440

/** Holds each device to its allowance, by itself: what one sends too much costs the others nothing. */
export class Throttle {
  readonly #clock: () => number
  readonly #messages = new Map<number, Bucket>()
  readonly #readings = new Map<number, Bucket>()
  readonly #bytes = new Map<number, Bucket>()

  /** @param clock ms, only running forward */
  constructor(clock: () => number) {
    this.#clock = clock
  }

  /**
   * Draws for one message, before it is read. A backlog is no madness: a day's worth may come at once.
   * @param bytes as they came over the wire
   * @param kept bytes that it takes of the disk: where it was packed, more than came over the wire
   * @returns undefined when it may pass
   */
  message({ id, allowance }: RegisteredDevice, bytes: number, kept = bytes): Throttled | undefined {
    if (bytes > allowance.messageBytes) {
      return {
        reason: `The message has ${bytes} bytes; the allowance of this device is ${allowance.messageBytes}.`,
        retryAfter: null,
      }
    }
    return (
      this.#draw(this.#bytes, id, kept, allowance.bytesPerMinute, 'bytes') ??
      this.#draw(this.#messages, id, 1, allowance.messagesPerMinute, 'messages')
    )
  }

  /** Draws for the readings of a message. */
  readings({ id, allowance }: RegisteredDevice, count: number): Throttled | undefined {
    return this.#draw(this.#readings, id, count, allowance.readingsPerMinute, 'readings')
  }

  #draw(
    buckets: Map<number, Bucket>,
    device: number,
    amount: number,
    perMinute: number,
    what: string,
  ): Throttled | undefined {
    const { bucket, wait } = draw(
      buckets.get(device),
      amount,
      { perMinute, capacity: perMinute * minutesPerDay },
      this.#clock(),
    )
    buckets.set(device, bucket)
    if (wait === 0) return undefined
    const retryAfter = Math.ceil(wait / 1000)
    return {
      reason: `The device is over its allowance of ${what} a minute (${perMinute}); it may go on in ${retryAfter} s.`,
      retryAfter,
    }
  }
}
