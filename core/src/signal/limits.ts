/** The bounds of a signal, in its unit, and how surely and how long they must be passed, in its unit and in seconds. */
export interface Limits {
  readonly lowLow: number | null
  readonly low: number | null
  readonly high: number | null
  readonly highHigh: number | null
  readonly deadband: number
  readonly onDelay: number
  readonly offDelay: number
}

/** Which of its limits a value is beyond. */
export type LimitState = 'lowLow' | 'low' | 'high' | 'highHigh'
