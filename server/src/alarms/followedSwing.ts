import { RecentSwing } from '@jaunty-sparrow/core/alarm'

/** How far a signal has moved lately, followed from reading to reading: what went before is read once. */
export class FollowedSwing {
  /** The span that a change is measured over, s. */
  readonly over: number
  readonly #swing: RecentSwing
  #to: number | null = null

  constructor(over: number) {
    this.over = over
    this.#swing = new RecentSwing(over)
  }

  /** The newest that it was told of, epoch ms; null for nothing yet. */
  get to(): number | null {
    return this.#to
  }

  /** @param at epoch ms @returns how far it has moved; null for what is older than what it was told of already */
  add(at: number, value: number): number | null {
    if (this.#to !== null && at <= this.#to) return null
    this.#to = at
    return this.#swing.add(at, value)
  }
}
