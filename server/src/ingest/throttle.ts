import { type Bucket, draw } from '@jaunty-sparrow/core'
import type { RegisteredDevice } from './deviceRegistry.ts'

/** Why a message was not taken, and when trying again makes sense. */
export interface Throttled {
  readonly reason: string
  /** Whole seconds; null when waiting does not help. */
  readonly retryAfter: number | null
}

const minutesPerDay = 1440

/** Holds each device to its limits, by itself: what one sends too much costs the others nothing. */
export class Throttle {
  readonly #clock: () => number
  readonly #messages = new Map<number, Bucket>()
  readonly #readings = new Map<number, Bucket>()

  /** @param clock ms, only running forward */
  constructor(clock: () => number) {
    this.#clock = clock
  }

  /** Draws for one message, before it is read. @returns undefined when it may pass */
  message({ id, limits }: RegisteredDevice, bytes: number): Throttled | undefined {
    if (bytes > limits.messageBytes) {
      return {
        reason: `The message has ${bytes} bytes; the limit of this device is ${limits.messageBytes}.`,
        retryAfter: null,
      }
    }
    const perMinute = limits.messagesPerMinute
    return this.#draw(this.#messages, id, 1, perMinute, perMinute, 'messages')
  }

  /** Draws for the readings of a message. A backlog is no madness: a day's worth may come at once. */
  readings({ id, limits }: RegisteredDevice, count: number): Throttled | undefined {
    const perMinute = limits.readingsPerMinute
    return this.#draw(this.#readings, id, count, perMinute, perMinute * minutesPerDay, 'readings')
  }

  #draw(
    buckets: Map<number, Bucket>,
    device: number,
    amount: number,
    perMinute: number,
    capacity: number,
    what: string,
  ): Throttled | undefined {
    const { bucket, wait } = draw(buckets.get(device), amount, { perMinute, capacity }, this.#clock())
    buckets.set(device, bucket)
    if (wait === 0) return undefined
    const retryAfter = Math.ceil(wait / 1000)
    return {
      reason: `The device is over its limit of ${what} a minute (${perMinute}); it may go on in ${retryAfter} s.`,
      retryAfter,
    }
  }
}
