import type { Signal } from '@jaunty-sparrow/contract'

/** What every way of asking is given. */
export interface SetterParts {
  readonly signal: Signal
  /** Whether it has to be held. */
  readonly holds: boolean
  readonly busy: boolean
  readonly ask: (value: number | string) => void
}
