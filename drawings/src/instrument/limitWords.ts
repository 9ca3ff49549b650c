import type { LimitState } from '@jaunty-sparrow/core/signal'

/** What being beyond a limit is called, with the shape it has. */
export const limitWords: Readonly<Record<LimitState, string>> = {
  highHigh: '▲ far too high',
  high: '▲ too high',
  low: '▼ too low',
  lowLow: '▼ far too low',
}
