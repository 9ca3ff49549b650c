/** How far a stored value can be trusted. Stored as a small integer, so the numbers never change their meaning. */
export const Quality = { good: 0, beyondRange: 1 } as const

export type Quality = (typeof Quality)[keyof typeof Quality]

/** One value of one signal at one instant. Instants are epoch milliseconds. */
export interface Reading {
  readonly signal: number
  /** When it was measured. */
  readonly at: number
  /** When it came in. */
  readonly receivedAt: number
  readonly value: number
  readonly quality: Quality
}
