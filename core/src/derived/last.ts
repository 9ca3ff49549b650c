import { heldAt, type Taking } from './window.ts'

/** The last value. */
export const last: Taking = {
  says: 'its value',
  of: ({ readings, last: place }) => heldAt(readings, place).value,
}
