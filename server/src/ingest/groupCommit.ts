import type { Reading } from '@jaunty-sparrow/core'
import type { KeptMessage } from '../arrivals/keptMessage.ts'

/** More than this in one statement brings nothing and makes the next group wait. */
const largestBatch = 5000

/** What may wait in memory before senders are told to come back later. */
const mostWaiting = 200_000

/** Thrown when too much waits already; nothing of the message was kept. */
export class Overloaded extends Error {}

/** What one message brings: itself, and the readings that were in it. */
export interface Submission {
  readonly message: KeptMessage
  readonly readings: readonly Reading[]
  /** Written by itself, so that what it brought can be told from what others brought. */
  readonly alone?: boolean
}

type Write = (readings: readonly Reading[], messages: readonly KeptMessage[]) => Promise<number>

interface Waiting extends Submission {
  readonly committed: (fresh: number) => void
  readonly failed: (error: unknown) => void
}

/**
 * Commits together what arrives together. While one group is being written the next one gathers, so the busier the
 * doors, the larger the groups; each sender hears back after its own readings are durable, never before.
 */
export class GroupCommit {
  readonly #write: Write
  #waiting: Waiting[] = []
  #waitingReadings = 0
  #writing: Promise<void> | undefined

  /** @param write stores a batch durably and tells how many readings were new, or throws with nothing stored */
  constructor(write: Write) {
    this.#write = write
  }

  /**
   * Resolves when the message and its readings are durable.
   * @returns how many readings were new in what was written together
   * @throws Overloaded when too much waits, or whatever the write threw
   */
  submit({ message, readings, alone = false }: Submission): Promise<number> {
    if (this.#waitingReadings + readings.length > mostWaiting) {
      return Promise.reject(new Overloaded('more readings are waiting to be stored than fit'))
    }
    return new Promise((committed, failed) => {
      this.#waiting.push({ message, readings, alone, committed, failed })
      this.#waitingReadings += readings.length
      this.#writing ??= this.#run()
    })
  }

  /** Resolves when nothing waits any more. */
  async settled(): Promise<void> {
    while (this.#writing) await this.#writing
  }

  async #run(): Promise<void> {
    // Let what came in with the same turn of the event loop join the first group.
    await new Promise((next) => setImmediate(next))
    while (this.#waiting.length > 0) {
      const group = this.#take()
      try {
        const fresh = await this.#write(
          group.flatMap(({ readings }) => readings as Reading[]),
          group.map(({ message }) => message),
        )
        for (const { committed } of group) committed(fresh)
      } catch (error) {
        for (const { failed } of group) failed(error)
      }
    }
    this.#writing = undefined
  }

  /** Takes whole messages up to the largest batch; a message that is larger by itself goes alone. */
  #take(): Waiting[] {
    let size = 0
    let count = 0
    for (const { readings, alone } of this.#waiting) {
      if (count > 0 && (alone || size + readings.length > largestBatch)) break
      size += readings.length
      count++
      if (alone) break
    }
    this.#waitingReadings -= size
    return this.#waiting.splice(0, count)
  }
}
