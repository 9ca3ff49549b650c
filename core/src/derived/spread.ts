import { meanOf } from './mean.ts'
import { heldAt, type Taking } from './window.ts'

/** The standard deviation of a sample: how much it scatters about its mean. */
export const spread: Taking = {
  says: 'its spread',
  of: (window) => {
    const { readings, first, last } = window
    const count = last - first + 1
    if (count < 2) return Number.NaN
    const mean = meanOf(window)
    let squares = 0
    for (let place = first; place <= last; place++) squares += (heldAt(readings, place).value - mean) ** 2
    return Math.sqrt(squares / (count - 1))
  },
}
