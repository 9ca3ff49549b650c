import { Worker } from 'node:worker_threads'
import type { Message } from '@jaunty-sparrow/core/message'
import type { DecodedMessage } from './decodeMessage.ts'
import { decodeMessage } from './decodeMessage.ts'
import { Overloaded } from './groupCommit.ts'

/** A larger body is read beside the server, so that nobody waits for it. */
export const largestHere = 64 * 1024

/** Bodies that may wait for their turn. */
const mostWaiting = 200

interface Job {
  readonly message: Message
  readonly receivedAt: number
  readonly done: (decoded: DecodedMessage) => void
  readonly failed: (error: Error) => void
}

/**
 * Reads messages: small ones at once, large ones one after the other in a worker with a deadline. One that takes too long, or
 * ends the worker, is refused in words and harms nobody else.
 */
export class Decoding {
  readonly #waiting: Job[] = []
  #worker: Worker | undefined
  #timer: NodeJS.Timeout | undefined
  #current: Job | undefined
  readonly #deadline: number

  /** @param deadline what takes longer to read is no message of a board, ms; a megabyte takes some 50 */
  constructor(deadline: number) {
    this.#deadline = deadline
  }

  /**
   * @param receivedAt when the message came in, epoch ms
   * @throws Overloaded when too many large ones wait
   */
  read(message: Message, receivedAt: number): DecodedMessage | Promise<DecodedMessage> {
    if (message.body.length <= largestHere) return decodeMessage(message, receivedAt)
    if (this.#waiting.length >= mostWaiting)
      return Promise.reject(new Overloaded('too many large messages wait to be read'))
    return new Promise((done, failed) => {
      this.#waiting.push({ message, receivedAt, done, failed })
      this.#next()
    })
  }

  async close(): Promise<void> {
    clearTimeout(this.#timer)
    for (const { failed } of [...(this.#current ? [this.#current] : []), ...this.#waiting.splice(0)])
      failed(new Overloaded('the server is stopping'))
    this.#current = undefined
    await this.#worker?.terminate()
  }

  #next(): void {
    if (this.#current) return
    const job = this.#waiting.shift()
    if (!job) return
    this.#current = job
    const { mediaType, body, tail = '' } = job.message
    this.#worker ??= this.#start()
    this.#worker.ref()
    this.#worker.postMessage({ message: { mediaType, body, tail }, receivedAt: job.receivedAt })
    this.#timer = setTimeout(
      () => this.#giveUp(`It took longer than ${this.#deadline / 1000} s to read.`),
      this.#deadline,
    )
  }

  #start(): Worker {
    const worker = new Worker(new URL('./decodingWorker.mjs', import.meta.url), { execArgv: [] })
    worker.on('message', (decoded: DecodedMessage) => this.#finish(decoded))
    worker.on('error', (error) => {
      if (this.#worker === worker) this.#giveUp(`It could not be read: ${error.message}.`)
    })
    return worker
  }

  #giveUp(reason: string): void {
    const worker = this.#worker
    this.#worker = undefined
    void worker?.terminate()
    const job = this.#current
    if (job) this.#finish(failure(job.message, reason))
  }

  #finish(decoded: DecodedMessage): void {
    clearTimeout(this.#timer)
    const job = this.#current
    this.#current = undefined
    // A server that does nothing else may end.
    this.#worker?.unref()
    job?.done(decoded)
    this.#next()
  }
}

const failure = ({ mediaType }: Message, reason: string): DecodedMessage => ({
  mediaType,
  records: { failure: `The body is large: ${reason}` },
})
