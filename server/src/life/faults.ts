import type { Logger } from 'pino'

/** What went wrong last where nobody had foreseen it. */
interface Fault {
  /** Epoch ms. */
  readonly at: number
  readonly where: string
  readonly message: string
}

/**
 * The last resort: what goes wrong where nobody foresaw it is logged and counted, and the server goes on. The owner sees the
 * count; each of them is a defect of ours.
 */
export class Faults {
  readonly #log: Logger
  readonly #now: () => number
  count = 0
  last: Fault | undefined

  constructor(log: Logger, now: () => number) {
    this.#log = log
    this.#now = now
  }

  note(where: string, error: unknown): void {
    this.count++
    const message = error instanceof Error ? error.message : String(error)
    this.last = { at: this.#now(), where, message: message.slice(0, 500) }
    this.#log.error({ err: error, where }, 'something went wrong that nobody foresaw; the server goes on')
  }

  /** Lets work go on by itself, and hears of it when it fails. */
  watch(where: string, work: Promise<unknown>): void {
    work.catch((error: unknown) => this.note(where, error))
  }

  /** Makes a callback for sockets, timers and the like out of one that may throw or reject. */
  guard<A extends unknown[]>(where: string, callback: (...args: A) => unknown): (...args: A) => void {
    return (...args) => {
      try {
        const result = callback(...args)
        if (result instanceof Promise) this.watch(where, result)
      } catch (error) {
        this.note(where, error)
      }
    }
  }
}
