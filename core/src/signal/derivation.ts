import type { SignalKind } from './signalKind.ts'

/** What a derived signal takes of another one at an instant. */
export const takeNames = [
  'last',
  'mean',
  'lowest',
  'highest',
  'spread',
  'index',
  'rate',
  'integral',
  'timeAbove',
  'counterRate',
  'counterIncrease',
] as const
export type TakeName = (typeof takeNames)[number]

/** Units of time that rates and integrals are told in, s. */
export const secondsPer = { s: 1, min: 60, h: 3600, d: 86_400 } as const
export type TimeUnit = keyof typeof secondsPer

/** How far back is looked: so many seconds, or since the day began at the site. */
export type Reach = number | 'day'

/** At most so far back, s: a day of 25 hours. */
export const farthestReach = 25 * 3600

/** What is taken of another signal at an instant, and over which time. */
export type Take =
  | { readonly by: 'last' }
  | { readonly by: 'mean' | 'lowest' | 'highest' | 'spread' | 'index'; readonly over: Reach }
  | { readonly by: 'rate' | 'integral'; readonly over: Reach; readonly per: TimeUnit }
  | { readonly by: 'timeAbove'; readonly over: Reach; readonly per: TimeUnit; readonly bound: number }
  | {
      readonly by: 'counterRate'
      readonly over: Reach
      readonly per: TimeUnit
      /** What the counter begins again from 0 at; null where it never does by itself. */
      readonly wrapsAt: number | null
    }
  | { readonly by: 'counterIncrease'; readonly over: Reach; readonly wrapsAt: number | null }

/** Another signal: the one that a definition of the same kit is at the same device, or a certain one of any device. */
export type SignalReference = { readonly definition: number } | { readonly signal: number }

/** One of the signals that a derived one follows from. */
export interface DerivedInput {
  /** What the formula calls it. */
  readonly name: string
  readonly of: SignalReference
  readonly take: Take
  /** How old its last reading may be, s; what is older says nothing any more. */
  readonly ageLimit: number
}

/** How a derived signal follows from others: a formula over their names and the constants of the device. */
export interface Derivation {
  readonly formula: string
  readonly inputs: readonly DerivedInput[]
}

/** Of which kinds a signal is that something can be worked out from. */
export const countedKinds: readonly SignalKind[] = ['number', 'switch', 'choice']

/** So many signals may one follow from. */
export const mostInputs = 8

/** How far back a reading of an input can matter, s. */
export const reachOf = ({ take, ageLimit }: Pick<DerivedInput, 'take' | 'ageLimit'>): number =>
  ageLimit + ('over' in take ? (take.over === 'day' ? farthestReach : take.over) : 0)
