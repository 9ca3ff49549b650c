import { heldAt, type Taking } from './window.ts'

/** The highest of a span. */
export const highest: Taking = {
  says: 'its highest',
  of: ({ readings, first, last }) => {
    let found = Number.NaN
    for (let place = first; place <= last; place++) {
      const { value } = heldAt(readings, place)
      if (!(found >= value)) found = value
    }
    return found
  },
}
