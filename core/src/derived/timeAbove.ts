import { secondsPer } from '../signal/derivation.ts'
import { heldAt, type TakeBy, type Taking } from './window.ts'

/** How long it was above a bound: each value holds until the next, at most as long as a gap begins. */
export const timeAbove: Taking<TakeBy<'timeAbove'>> = {
  says: 'how long it was above',
  of: ({ readings, first, last, from, at, gap }, { per, bound }) => {
    let sum = 0
    for (let place = Math.max(first - 1, 0); place <= last; place++) {
      const held = heldAt(readings, place)
      if (!(held.value > bound)) continue
      const until = Math.min(place < last ? heldAt(readings, place + 1).at : at, held.at + gap)
      sum += Math.max(0, until - Math.max(held.at, from))
    }
    return sum / 1000 / secondsPer[per]
  },
}
