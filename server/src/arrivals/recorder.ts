import { type Allowance, type Bucket, draw } from '@jaunty-sparrow/core'
import type { Logger } from 'pino'
import type { KeptMessage } from './keptMessage.ts'

/** What a stranger sends, or a device beyond its limits, is kept up to this many bytes. */
const uninvitedBytes = 4096

/**
 * Of strangers, and of each device that sends too much, so many are kept: some at once, then one every two seconds. With the
 * bytes of each that is 180 MB a day at most, so that nobody can fill the disk.
 */
const uninvitedKept: Allowance = { perMinute: 30, capacity: 100 }

/** Refused messages that may wait to be written; beyond it they are told to the pages and not kept. */
const mostWaiting = 500
const writeInterval = 250
const strangers = ''

/** A message that never got as far as being committed. */
export type RefusedMessage = Omit<KeptMessage, 'id' | 'stored'>

interface RecorderParts {
  /** Numbers a message, in the order of arrival. */
  readonly number: (receivedAt: number) => number
  readonly write: (messages: readonly KeptMessage[]) => Promise<unknown>
  readonly tell: (message: KeptMessage) => void
  readonly log: Logger
}

/**
 * Keeps what was refused, so that it can be looked at. Nobody waits for it: the sender is answered meanwhile, and when the
 * store is away or too much is refused at once, a refusal is told to the pages without being kept.
 */
export class RefusalRecorder {
  readonly #parts: RecorderParts
  #waiting: KeptMessage[] = []
  readonly #uninvited = new Map<string, Bucket>()
  #timer: NodeJS.Timeout | undefined
  #writing: Promise<void> = Promise.resolve()

  constructor(parts: RecorderParts) {
    this.#parts = parts
  }

  record(refused: RefusedMessage): void {
    const uninvited = refused.deviceId === null || refused.outcome === 'throttled'
    const body = uninvited ? refused.body.subarray(0, uninvitedBytes) : refused.body
    const message: KeptMessage = {
      ...refused,
      body,
      sender: refused.sender.slice(0, 60),
      id: this.#parts.number(refused.receivedAt),
      stored: 0,
    }
    this.#parts.tell(message)
    if (this.#waiting.length >= mostWaiting || (uninvited && this.#hasEnoughOf(message))) return
    this.#waiting.push(message)
    this.#timer ??= setTimeout(() => void this.flush(), writeInterval)
  }

  /** Writes what waits; resolves when everything that was recorded before is written. */
  async flush(): Promise<void> {
    this.#writing = this.#writing.then(() => this.#write())
    await this.#writing
  }

  async #write(): Promise<void> {
    clearTimeout(this.#timer)
    this.#timer = undefined
    const messages = this.#waiting
    this.#waiting = []
    if (messages.length === 0) return
    try {
      await this.#parts.write(messages)
    } catch (error) {
      this.#parts.log.warn({ err: error, messages: messages.length }, 'refused messages could not be kept')
    }
  }

  #hasEnoughOf({ deviceId, sender, receivedAt }: KeptMessage): boolean {
    const whose = deviceId === null ? strangers : sender
    const { bucket, wait } = draw(this.#uninvited.get(whose), 1, uninvitedKept, receivedAt)
    this.#uninvited.set(whose, bucket)
    return wait > 0
  }
}
