import type { Reach, Take } from '../signal/derivation.ts'

/** A value that counts, and its instant, epoch ms. */
export interface Held {
  readonly at: number
  readonly value: number
}

/** What of a signal lies in a span that ends at an instant; all of it counts, in order. */
export interface Window {
  readonly readings: readonly Held[]
  /** Places in `readings` of the first one inside and of the last one, which there always is. */
  readonly first: number
  readonly last: number
  /** Where the span begins, epoch ms. */
  readonly from: number
  /** Where it ends, epoch ms. */
  readonly at: number
  /** What is farther apart, ms, has a gap between. */
  readonly gap: number
}

/** One way to take something of a signal at an instant. */
export interface Taking<Settings extends Take = Take> {
  /** What it is, in words that follow the name of the signal. */
  readonly says: string
  /** Works it out; not a number where the window holds too little for it. */
  readonly of: (window: Window, settings: Settings) => number
}

/** The settings of one way to take. */
export type TakeBy<Name extends Take['by']> = Extract<Take, { readonly by: Name }>

/** Whether something is looked back over. */
export const hasReach = (take: Take): take is Take & { readonly over: Reach } => 'over' in take

/** The reading at a place, which is there. */
export function heldAt(readings: readonly Held[], place: number): Held {
  const held = readings[place]
  if (!held) throw new Error(`there is no reading at place ${place} of ${readings.length}`)
  return held
}
