/** What messages may take in memory between coming in and being answered, altogether and of one device. */
const most = 96 * 1024 * 1024
const mostOfOne = 24 * 1024 * 1024

/** Holds what is being read to what there is room for, so that large messages together do not take all memory. */
export class ByteBudget {
  #held = 0
  readonly #heldBy = new Map<string, number>()

  /** Takes room for some bytes. @returns false where there is none: then nothing was taken */
  hold(owner: string, bytes: number): boolean {
    const own = (this.#heldBy.get(owner) ?? 0) + bytes
    if (this.#held + bytes > most || own > mostOfOne) return false
    this.#held += bytes
    this.#heldBy.set(owner, own)
    return true
  }

  release(owner: string, bytes: number): void {
    this.#held -= bytes
    const own = (this.#heldBy.get(owner) ?? 0) - bytes
    if (own > 0) this.#heldBy.set(owner, own)
    else this.#heldBy.delete(owner)
  }
}
