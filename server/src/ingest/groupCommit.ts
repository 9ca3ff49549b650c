import type { Reading } from '@jaunty-sparrow/core/signal'
import type { KeptMessage } from '../messages/keptMessage.ts'
import type { StoredOtherwise, Write, Written } from '../readings/written.ts'
import { isStoreAway } from '../store/databaseError.ts'
import { parted } from '../store/parted.ts'

/** More than this in one statement brings nothing and makes the next group wait. */
const largestBatch = 5000
const largestBatchBytes = 4 * 1024 * 1024

/** A message of more readings is written in several statements, the message itself with the last. */
const largestStatement = 20_000

/** What may wait in memory before senders are told to come back later, altogether and of one device. */
const mostWaiting = { readings: 200_000, bytes: 64 * 1024 * 1024 }
const mostWaitingOfOne = { readings: 100_000, bytes: 16 * 1024 * 1024 }

/** Thrown when too much waits already; nothing of the message was kept. */
export class Overloaded extends Error {}

/** Thrown for a message that the store will not take, however often it is tried; nothing of it was kept. */
export class Unstorable extends Error {}

/** What one message brings: itself, and the readings that were in it. */
export interface Submission {
  readonly message: KeptMessage
  readonly readings: readonly Reading[]
  /** Written by itself, so that what it brought can be told from what others brought. */
  readonly alone?: boolean
}

interface Load {
  readings: number
  bytes: number
}

interface Waiting extends Submission {
  readonly load: Load
  readonly committed: (written: Written) => void
  readonly failed: (error: unknown) => void
}

/**
 * Commits together what arrives together. While one group is being written the next one gathers, so the busier the
 * doors, the larger the groups; each sender hears back after its own readings are durable, never before. A message that the
 * store will not take fails by itself.
 */
export class GroupCommit {
  readonly #write: Write
  readonly #waiting: Waiting[] = []
  readonly #load: Load = { readings: 0, bytes: 0 }
  readonly #loads = new Map<string, Load>()
  #writing: Promise<void> | undefined

  /** @param write stores a batch durably, or throws with nothing stored */
  constructor(write: Write) {
    this.#write = write
  }

  /**
   * Resolves when the message and its readings are durable.
   * @returns what came of what was written together with it
   * @throws Overloaded when too much waits, Unstorable when the store will not take it, or whatever the write threw
   */
  submit({ message, readings, alone = false }: Submission): Promise<Written> {
    const load = { readings: readings.length, bytes: message.body.length }
    if (!this.#hasRoom(message.sender, load))
      return Promise.reject(new Overloaded('more is waiting to be stored than fits'))
    return new Promise((committed, failed) => {
      this.#waiting.push({ message, readings, alone, load, committed, failed })
      this.#add(message.sender, load)
      this.#writing ??= this.#run()
    })
  }

  /** Resolves when nothing waits any more. */
  async settled(): Promise<void> {
    while (this.#writing) await this.#writing
  }

  /** What is larger than fits at all is let in where nothing else waits: else it would be turned away for ever. */
  #hasRoom(sender: string, load: Load): boolean {
    const own = this.#loads.get(sender)
    return (
      (this.#waiting.length === 0 || fits(this.#load, load, mostWaiting)) &&
      (own === undefined || fits(own, load, mostWaitingOfOne))
    )
  }

  #add(sender: string, { readings, bytes }: Load): void {
    this.#load.readings += readings
    this.#load.bytes += bytes
    const own = this.#loads.get(sender)
    if (own) {
      own.readings += readings
      own.bytes += bytes
    } else this.#loads.set(sender, { readings, bytes })
  }

  async #run(): Promise<void> {
    // Let what came in with the same turn of the event loop join the first group.
    await new Promise((next) => setImmediate(next))
    while (this.#waiting.length > 0) {
      for await (const part of parted(this.#take(), (group) => this.#writeGroup(group))) {
        for (const { committed, failed } of part.items) {
          if ('result' in part) committed(part.result)
          else
            failed(
              isStoreAway(part.error)
                ? part.error
                : new Unstorable(reasonOf(part.error), { cause: part.error }),
            )
        }
      }
    }
    this.#writing = undefined
  }

  async #writeGroup(group: readonly Waiting[]): Promise<Written> {
    const [first] = group
    if (group.length === 1 && first && first.readings.length > largestStatement) return this.#writeLong(first)
    return this.#write(
      group.flatMap(({ readings }) => readings as Reading[]),
      group.map(({ message }) => message),
    )
  }

  async #writeLong({ readings, message }: Waiting): Promise<Written> {
    let fresh = 0
    const otherwise: StoredOtherwise[] = []
    for (let start = 0; start < readings.length; start += largestStatement) {
      const end = start + largestStatement
      const written = await this.#write(readings.slice(start, end), end >= readings.length ? [message] : [])
      fresh += written.fresh
      otherwise.push(...written.otherwise)
    }
    return { fresh, otherwise }
  }

  /** Takes whole messages up to the largest batch; a message that is larger by itself goes alone. */
  #take(): Waiting[] {
    const size: Load = { readings: 0, bytes: 0 }
    let count = 0
    for (const { load, alone } of this.#waiting) {
      const isFull =
        size.readings + load.readings > largestBatch || size.bytes + load.bytes > largestBatchBytes
      if (count > 0 && (alone || isFull)) break
      size.readings += load.readings
      size.bytes += load.bytes
      count++
      if (alone) break
    }
    const taken = this.#waiting.splice(0, count)
    this.#load.readings -= size.readings
    this.#load.bytes -= size.bytes
    for (const { message, load } of taken) this.#remove(message.sender, load)
    return taken
  }

  #remove(sender: string, { readings, bytes }: Load): void {
    const own = this.#loads.get(sender)
    if (!own) return
    own.readings -= readings
    own.bytes -= bytes
    if (own.readings <= 0 && own.bytes <= 0) this.#loads.delete(sender)
  }
}

const fits = (waiting: Load, more: Load, most: Load): boolean =>
  waiting.readings + more.readings <= most.readings && waiting.bytes + more.bytes <= most.bytes

const reasonOf = (error: unknown): string => (error instanceof Error ? error.message : String(error))
