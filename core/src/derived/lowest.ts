import { heldAt, type Taking } from './window.ts'

/** The lowest of a span. */
export const lowest: Taking = {
  says: 'its lowest',
  of: ({ readings, first, last }) => {
    let found = Number.NaN
    for (let place = first; place <= last; place++) {
      const { value } = heldAt(readings, place)
      if (!(found <= value)) found = value
    }
    return found
  },
}
