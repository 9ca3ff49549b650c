import type { Alarm } from './alarm.ts'
import type { Control } from './control.ts'
import type { Derivation } from './derivation.ts'
import type { Limits } from './limits.ts'
import type { SignalKind } from './signalKind.ts'
import type { StoringRule } from './storingRule.ts'

/** Where a signal comes from: the device tells us, we tell the device and it reports back, or it follows from other signals. */
export const signalOrigins = ['measured', 'controlled', 'derived'] as const
export type SignalOrigin = (typeof signalOrigins)[number]

/** A span of values, both ends included; null where it is open. */
export interface Span {
  readonly low: number | null
  readonly high: number | null
}

/** One of the states a choice has: its code is stored and never changes, its name may. */
export interface Choice {
  readonly code: number
  readonly name: string
}

/** A named range of a number, such as *good*; it begins at `from` and ends before `to`. */
export interface Band {
  readonly name: string
  readonly from: number | null
  readonly to: number | null
}

/** A value that means that the sensor is at fault, as it is sent. */
export interface Fault {
  readonly value: number
  readonly name: string
}

/** How often something is said: every so many seconds, by one that sleeps in between, or when something happens. */
export type Cadence =
  | { readonly by: 'always'; readonly seconds: number }
  | { readonly by: 'sleep'; readonly seconds: number }
  | { readonly by: 'event' }

/** What a kit says of a signal, and what a device may have its own of. */
export interface SignalSettings {
  /** UCUM code of the unit its readings are in; null when nobody has said. */
  readonly unit: string | null
  /** Decimals that are shown; null for as many as its values have. */
  readonly decimals: number | null
  /** What the sensor can plausibly say, in the signal's unit; a value beyond it is kept and marked. */
  readonly range: Span
  /** What scales and charts show. */
  readonly shown: Span
  readonly bands: readonly Band[]
  readonly limits: Limits | null
  /** What has to be known of it, and by when. */
  readonly alarms: readonly Alarm[]
  /** Which of its readings are stored. */
  readonly storing: StoringRule
  /** The formula that makes the signal's unit of what is sent, x; null where it is sent in that. */
  readonly conversion: string | null
  readonly faults: readonly Fault[]
  /** How it follows from other signals; null where it is measured or controlled. */
  readonly derivation: Derivation | null
  /** What may be asked of it, where it is controlled; null for what usually may. */
  readonly control: Control | null
  /** What it can change by at most in a second, in its unit. */
  readonly greatestRate: number | null
  /** How often it is expected; null for as often as its device speaks. */
  readonly cadence: Cadence | null
  /** Where it stands among the others; equal ones stand in the order they were made. */
  readonly order: number
  /** The title under which it stands together with others; null for none. */
  readonly group: string | null
}

export const usualSettings: SignalSettings = {
  unit: null,
  decimals: null,
  range: { low: null, high: null },
  shown: { low: null, high: null },
  bands: [],
  limits: null,
  alarms: [],
  storing: { by: 'every' },
  conversion: null,
  derivation: null,
  faults: [],
  control: null,
  greatestRate: null,
  cadence: null,
  order: 0,
  group: null,
}

/**
 * The one definition of a signal, held by a kit and used by every device of that kit.
 * `state` says how far a person has gone with it: the program only ever *suggests* a signal, a person accepts or ignores it.
 */
export interface SignalDefinition extends SignalSettings {
  readonly id: number
  readonly name: string
  /**
   * JSON Pointer (RFC 6901) of the field this signal is read from. Of like parts one segment is `{part}`, which stands for
   * whatever the device calls each of them. Of derived ones it is empty, or `/{part}` where there is one for each part.
   */
  readonly field: string
  readonly kind: SignalKind
  readonly origin: SignalOrigin
  readonly state: 'suggested' | 'accepted' | 'ignored'
  /** The states of a choice; empty for all other kinds. */
  readonly choices: readonly Choice[]
}

/** Why somebody does not trust a signal just now. */
export interface Doubt {
  readonly why: string
  /** Who said so. */
  readonly person: string
  /** Since when, epoch ms. */
  readonly at: number
}

/** A signal of one device: the number its readings are stored under, and its kit's definition with the device's own settings. */
export interface DeviceSignal {
  readonly signal: number
  /** Which of like parts it is of, as the device calls it; empty for what there is only one of. */
  readonly part: string
  readonly definition: SignalDefinition
  /** The settings that are of the device itself, and not of its kit. */
  readonly own: readonly (keyof SignalSettings)[]
  readonly doubt?: Doubt
  /** Whether the device had it by another kit: it can be looked back at, and nothing is added. */
  readonly isFormer?: true
}
