/** What must not be the case when something is asked for, over other signals of the same device. */
export interface Interlock {
  /** Why it is refused then, as in *the lid is open*. */
  readonly says: string
  /** A formula; what it makes is true where it is not 0. */
  readonly formula: string
  /** What the formula calls signals of the device, each by the name of the signal. */
  readonly inputs: readonly { readonly name: string; readonly named: string }[]
}

/** What may be asked of a controlled signal, and under which conditions. */
export interface Control {
  /** Numbers go by this step, in its unit; null for any number in its range. */
  readonly step: number | null
  /** Whether it asks back: it has to be held to confirm. */
  readonly holds: boolean
  /** How long a command is valid, s; null for as long as fits how its device speaks. */
  readonly validFor: number | null
  readonly role: 'operator' | 'owner'
  /** Whether the board gets the bare value, without number and end. */
  readonly bare: boolean
  /** How long it stays off, or on, before it may be switched again, s. */
  readonly leastOff: number
  readonly leastOn: number
  /** How often it may be asked for in an hour; null for as often as one likes. */
  readonly mostAnHour: number | null
  readonly unless: readonly Interlock[]
  /** Where it shuts its device down: how that returns, in words. */
  readonly shutsDown?: string
  /** Whether what it reports is how often its device speaks, a length of time. */
  readonly setsInterval?: boolean
}

/** What holds where nobody has said more. */
export const usualControl: Control = {
  step: null,
  holds: false,
  validFor: null,
  role: 'operator',
  bare: false,
  leastOff: 0,
  leastOn: 0,
  mostAnHour: null,
  unless: [],
}
