/** Messages of one device that were dropped without being kept, since the server started. */
export interface Dropped {
  readonly messages: number
  /** When the last of them came, epoch ms. */
  readonly lastAt: number
  /** Why, in words. */
  readonly reason: string
}

/** Counts what is dropped, by device, so that its owner sees that something is missing, and why. */
export class Drops {
  readonly #byDevice = new Map<number, Dropped>()

  count(device: number, at: number, reason: string): void {
    const messages = (this.#byDevice.get(device)?.messages ?? 0) + 1
    this.#byDevice.set(device, { messages, lastAt: at, reason })
  }

  of(device: number): Dropped | null {
    return this.#byDevice.get(device) ?? null
  }

  forget(device: number): void {
    this.#byDevice.delete(device)
  }
}
