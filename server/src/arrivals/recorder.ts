import type { Logger } from 'pino'
import type { KeptMessage } from './keptMessage.ts'

/** What a stranger sends is kept up to this many bytes, so that nobody can fill the disk without a secret. */
const strangersBytes = 4096

/** Refused messages that may wait to be written; beyond it they are told to the pages and not kept. */
const mostWaiting = 500
const writeInterval = 250
/** Strangers, and each device that sends too much, get less room: some twenty a second. */
const mostOfOneWaiting = 5
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
  readonly #held = new Map<string, number>()
  #timer: NodeJS.Timeout | undefined
  #writing: Promise<void> = Promise.resolve()

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
      stored: 0,
    }
    this.#parts.tell(message)
    if (this.#waiting.length >= mostWaiting || this.#hasEnoughOf(message)) return
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
    this.#held.clear()
    if (messages.length === 0) return
    try {
      await this.#parts.write(messages)
    } catch (error) {
      this.#parts.log.warn({ err: error, messages: messages.length }, 'refused messages could not be kept')
    }
  }

  #hasEnoughOf({ deviceId, sender, outcome }: KeptMessage): boolean {
    if (deviceId !== null && outcome !== 'throttled') return false
    const whose = deviceId === null ? strangers : sender
    const held = (this.#held.get(whose) ?? 0) + 1
    this.#held.set(whose, held)
    return held > mostOfOneWaiting
  }
}
