/** After so long without a death, ms, it is as if there had been none. */
const forgottenAfter = 60_000
const shortestRest = 500
const longestRest = 30_000

/** So many times in a row it may die before it is ready. */
const mostFalseStarts = 5

/** Says how long to rest before something that died is started again, and when that is pointless. */
export class Restarts {
  #inRow = 0
  #falseStarts = 0

  /**
   * @param {number} lived how long it lived, ms
   * @param {boolean} wasReady whether it had got ready
   * @returns {number | undefined} how long to rest, ms; undefined to give up
   */
  next(lived, wasReady) {
    if (lived >= forgottenAfter) this.#inRow = 0
    this.#falseStarts = wasReady ? 0 : this.#falseStarts + 1
    if (this.#falseStarts >= mostFalseStarts) return undefined
    return Math.min(longestRest, shortestRest * 2 ** this.#inRow++)
  }
}
