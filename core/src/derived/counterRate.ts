import { secondsPer } from '../signal/derivation.ts'
import { increaseOf } from './counterIncrease.ts'
import { heldAt, type TakeBy, type Taking } from './window.ts'

/** How fast a counter counts: what it counted since the reading before the span, where there is no gap between, by the time since. */
export const counterRate: Taking<TakeBy<'counterRate'>> = {
  says: 'how fast it counts',
  of: (window, { per, wrapsAt }) => {
    const { readings, first, last, gap } = window
    if (first > last) return Number.NaN
    const begin = heldAt(readings, first).at
    const before = readings[first - 1]?.at ?? begin
    const since = begin - before <= gap ? before : begin
    const until = heldAt(readings, last).at
    return until === since
      ? Number.NaN
      : (increaseOf(window, wrapsAt) * 1000 * secondsPer[per]) / (until - since)
  },
}
