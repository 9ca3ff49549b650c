/** Lets work be done one after the other. */
export class Turns {
  #last: Promise<unknown> = Promise.resolve()

  /** Does it when all that came before is done, whatever came of that. */
  take<T>(work: () => Promise<T>): Promise<T> {
    const turn = this.#last.then(work)
    this.#last = turn.catch(() => undefined)
    return turn
  }
}
