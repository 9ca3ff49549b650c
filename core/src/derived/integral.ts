import { secondsPer } from '../signal/derivation.ts'
import { heldAt, type TakeBy, type Taking } from './window.ts'

/**
 * What it adds up to over time, by trapezoids: power to energy. Over a gap nothing is known, so nothing is added; what began before
 * the span counts from where the span begins.
 */
export const integral: Taking<TakeBy<'integral'>> = {
  says: 'what it adds up to',
  of: ({ readings, first, last, from, gap }, { per }) => {
    if (first > last) return Number.NaN
    let sum = 0
    for (let place = Math.max(first, 1); place <= last; place++) {
      const [one, next] = [heldAt(readings, place - 1), heldAt(readings, place)]
      const apart = next.at - one.at
      if (apart > gap) continue
      const begin = Math.max(one.at, from)
      const atBegin = one.value + ((next.value - one.value) * (begin - one.at)) / apart
      sum += ((atBegin + next.value) / 2) * (next.at - begin)
    }
    return sum / 1000 / secondsPer[per]
  },
}
