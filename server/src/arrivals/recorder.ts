import type { Logger } from 'pino'
import type { KeptMessage } from './keptMessage.ts'

/** What a stranger sends is kept up to this many bytes, so that nobody can fill the disk without a secret. */
const strangersBytes = 4096

/** Refused messages that may wait to be written; beyond it they are told to the pages and not kept. */
const mostWaiting = 500
const writeInterval = 250
/** Strangers get less room: some twenty a second. */
const mostStrangersWaiting = 5

/** A message that never got as far as being committed. */
export type RefusedMessage = Omit<KeptMessage, 'id' | 'outcome' | 'stored'>

interface RecorderParts {
  /** Numbers a message, in the order of arrival. */
  readonly number: (receivedAt: number) => number
  readonly write: (messages: readonly KeptMessage[]) => Promise<void>
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
  #strangersWaiting = 0
  #timer: NodeJS.Timeout | undefined

  constructor(parts: RecorderParts) {
    this.#parts = parts
  }

  record(refused: RefusedMessage): void {
    const body = refused.deviceId === null ? refused.body.subarray(0, strangersBytes) : refused.body
    const message: KeptMessage = {
      ...refused,
      body,
      sender: refused.sender.slice(0, 60),
      id: this.#parts.number(refused.receivedAt),
      outcome: 'refused',
      stored: 0,
    }
    this.#parts.tell(message)
    if (this.#waiting.length >= mostWaiting) return
    if (refused.deviceId === null && ++this.#strangersWaiting > mostStrangersWaiting) return
    this.#waiting.push(message)
    this.#timer ??= setTimeout(() => void this.flush(), writeInterval)
  }

  /** Writes what waits. */
  async flush(): Promise<void> {
    clearTimeout(this.#timer)
    this.#timer = undefined
    const messages = this.#waiting
    this.#waiting = []
    this.#strangersWaiting = 0
    if (messages.length === 0) return
    try {
      await this.#parts.write(messages)
    } catch (error) {
      this.#parts.log.warn({ err: error, messages: messages.length }, 'refused messages could not be kept')
    }
  }
}
