import { type Bucket, draw, type Refill } from '@jaunty-sparrow/core/device'
import { longest, presentable } from '@jaunty-sparrow/core/text'
import type { Logger } from 'pino'
import { parted } from '../store/parted.ts'
import type { KeptMessage } from './keptMessage.ts'

/** What a stranger sends, or a device beyond its allowance, is kept up to this many bytes. */
const uninvitedBytes = 4096

/**
 * Of strangers, and of each device that sends too much, so many are kept: some at once, then one every two seconds. With the
 * bytes of each that is 180 MB a day at most, so that nobody can fill the disk.
 */
const uninvitedKept: Refill = { perMinute: 30, capacity: 100 }

/** Refused messages that may wait to be written, and their bytes; beyond it they are told to the pages and not kept. */
const mostWaiting = 500
const mostWaitingBytes = 8 * 1024 * 1024

/** Strangers may call themselves anything; of so many names is remembered how much was kept. */
const mostRemembered = 10_000
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
  #waitingBytes = 0
  readonly #uninvited = new Map<string, Bucket>()
  #timer: NodeJS.Timeout | undefined
  #writing: Promise<void> = Promise.resolve()

  constructor(parts: RecorderParts) {
    this.#parts = parts
  }

  /** Takes it up; never throws. While the server has no number of its own, there is none for the message, and it is let go. */
  record(refused: RefusedMessage): void {
    try {
      this.#record(refused)
    } catch (error) {
      this.#parts.log.warn({ err: error }, 'a refused message could not be kept')
    }
  }

  #record(refused: RefusedMessage): void {
    const uninvited = refused.deviceId === null || refused.outcome === 'throttled'
    const message: KeptMessage = {
      ...refused,
      body: uninvited ? refused.body.subarray(0, uninvitedBytes) : refused.body,
      sender: presentable(refused.sender, longest.sender),
      mediaType: presentable(refused.mediaType, longest.mediaType),
      tail: presentable(refused.tail, longest.tail),
      topic: presentable(refused.topic, longest.topic),
      reason: presentable(refused.reason, longest.reason),
      id: this.#parts.number(refused.receivedAt),
      stored: 0,
    }
    this.#parts.tell(message)
    const isFull =
      this.#waiting.length >= mostWaiting || this.#waitingBytes + message.body.length > mostWaitingBytes
    if (isFull || (uninvited && this.#hasEnoughOf(message))) return
    this.#waiting.push(message)
    this.#waitingBytes += message.body.length
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
    this.#waitingBytes = 0
    if (messages.length === 0) return
    for await (const part of parted(messages, (some) => this.#parts.write(some))) {
      if ('error' in part)
        this.#parts.log.warn(
          { err: part.error, messages: part.items.length },
          'refused messages could not be kept',
        )
    }
  }

  #hasEnoughOf({ deviceId, sender, receivedAt }: KeptMessage): boolean {
    const whose = deviceId === null ? strangers : sender
    const { bucket, wait } = draw(this.#uninvited.get(whose), 1, uninvitedKept, receivedAt)
    this.#uninvited.delete(whose)
    this.#uninvited.set(whose, bucket)
    for (const [longAgo] of this.#uninvited) {
      if (this.#uninvited.size <= mostRemembered) break
      this.#uninvited.delete(longAgo)
    }
    return wait > 0
  }
}
