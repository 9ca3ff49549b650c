/** One machine with more connections than this is not a house full of boards. */
const mostOfOne = 2000

interface Connection {
  readonly remoteAddress?: string | undefined
  destroy(): unknown
  once(event: 'close', listener: () => void): unknown
}

/** Counts the connections of each machine, so that none can take all that there may be. */
export class ConnectionLimit {
  readonly #counts = new Map<string, number>()

  /** Lets a connection in, or ends it. @returns whether it may stay */
  admit(connection: Connection): boolean {
    const { remoteAddress: address = '' } = connection
    const count = this.#counts.get(address) ?? 0
    if (count >= mostOfOne) {
      connection.destroy()
      return false
    }
    this.#counts.set(address, count + 1)
    connection.once('close', () => {
      const left = (this.#counts.get(address) ?? 1) - 1
      if (left > 0) this.#counts.set(address, left)
      else this.#counts.delete(address)
    })
    return true
  }
}
