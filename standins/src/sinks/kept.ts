/** Something that came in: a mail, or a call. */
export interface Received {
  readonly at: number
  readonly by: 'mail' | 'webhook'
  readonly title: string
  readonly details: string
  readonly body: string
}

/** So much is kept. */
const most = 200

/** What came in last, the newest first. */
export class Kept {
  readonly #received: Received[] = []

  add(received: Received): void {
    this.#received.unshift(received)
    this.#received.length = Math.min(this.#received.length, most)
  }

  get all(): readonly Received[] {
    return this.#received
  }
}
