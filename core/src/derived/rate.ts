import { secondsPer } from '../signal/derivation.ts'
import { heldAt, type TakeBy, type Taking } from './window.ts'

/** How fast it changes: the slope of the line of least squares through all readings of the span, which noise moves least. */
export const rate: Taking<TakeBy<'rate'>> = {
  says: 'how fast it changes',
  of: ({ readings, first, last, at }, { per }) => {
    const count = last - first + 1
    if (count < 2) return Number.NaN
    let meanTime = 0
    let meanValue = 0
    for (let place = first; place <= last; place++) {
      const held = heldAt(readings, place)
      meanTime += (held.at - at) / count
      meanValue += held.value / count
    }
    let across = 0
    let along = 0
    for (let place = first; place <= last; place++) {
      const held = heldAt(readings, place)
      const time = held.at - at - meanTime
      across += time * (held.value - meanValue)
      along += time * time
    }
    return (across / along) * 1000 * secondsPer[per]
  },
}
