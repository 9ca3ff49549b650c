/**
 * What has been opened, to be closed again: the last opened first, each even where closing another one failed. A start that
 * fails half-way closes with it what it had opened.
 */
export class Opened {
  readonly #closers: (() => unknown)[] = []

  /** Says how something is closed that was opened just now. @returns the thing itself */
  add<T>(thing: T, close: (thing: T) => unknown): T {
    this.#closers.push(() => close(thing))
    return thing
  }

  /** @throws AggregateError of whatever could not be closed */
  async close(): Promise<void> {
    const errors: unknown[] = []
    for (let close = this.#closers.pop(); close; close = this.#closers.pop()) {
      try {
        await close()
      } catch (error) {
        errors.push(error)
      }
    }
    if (errors.length > 0) throw new AggregateError(errors, 'not everything could be closed')
  }
}
