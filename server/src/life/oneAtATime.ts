/** Work that is asked for again and again, whether it is still being done or not. */
export class OneAtATime {
  readonly #work: () => Promise<unknown>
  #running: Promise<unknown> | undefined
  #isWanted = false

  constructor(work: () => Promise<unknown>) {
    this.#work = work
  }

  /** Does it, unless it is being done. */
  async run(): Promise<void> {
    if (this.#running) return
    this.#running = this.#work()
    try {
      await this.#running
    } finally {
      this.#running = undefined
    }
  }

  /** Does it; and once more after, where it is being done: what it is asked for now may have come too late for that. */
  async again(): Promise<void> {
    if (this.#running) {
      this.#isWanted = true
      return
    }
    do {
      this.#isWanted = false
      await this.run()
    } while (this.#isWanted)
  }

  /** Resolves when it is not being done, however it ended. */
  async settled(): Promise<void> {
    await this.#running?.catch(() => undefined)
  }
}
