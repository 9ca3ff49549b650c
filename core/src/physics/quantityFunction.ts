/** One number a function takes. */
export interface Parameter {
  readonly name: string
  /** UCUM code; empty for a mere number. */
  readonly unit: string
  /** What lies beyond it is no argument: the function says so instead of making something of it. */
  readonly from?: number
  readonly to?: number
}

/** A function of the formula language: what it is for, what it takes and gives, and where its formula comes from. */
export interface QuantityFunction {
  readonly name: string
  readonly says: string
  readonly takes: readonly Parameter[]
  /** How many of the last parameters come again and again, as the points of a table. */
  readonly repeats?: number
  /** UCUM code of what it gives; empty for a mere number or what the arguments are in. */
  readonly gives: string
  readonly source: string
  /** A formula as somebody would write it. */
  readonly example: string
  readonly of: (...arguments_: number[]) => number
}
