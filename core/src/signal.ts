import type { Keep } from './keep.ts'

/** What a signal can be so far: a number in a unit, or a switch that is off (0) or on (1). */
export type SignalKind = 'number' | 'switch'

/**
 * The one definition of a signal, held by a kit and used by every device of that kit.
 * `state` says how far a person has gone with it: the program only ever *suggests* a signal, a person accepts or ignores it.
 */
export interface SignalDefinition {
  readonly id: number
  readonly name: string
  /** JSON Pointer (RFC 6901) of the field this signal is read from. */
  readonly field: string
  readonly kind: SignalKind
  readonly state: 'suggested' | 'accepted' | 'ignored'
  /** UCUM code of the unit its readings are in; null when nobody has said. */
  readonly unit: string | null
  /** What the sensor can plausibly say, in the signal's unit; a value beyond it is kept and marked. */
  readonly range: { readonly low: number | null; readonly high: number | null }
  /** Which of its readings are stored. */
  readonly keep: Keep
}

/** A signal of one device: the definition of its kit, and the number its readings are stored under. */
export interface DeviceSignal {
  readonly signal: number
  readonly definition: SignalDefinition
}
