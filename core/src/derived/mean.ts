import { heldAt, type Taking, type Window } from './window.ts'

/** The mean of a window, by running updates, which lose no digits (Welford 1962). */
export function meanOf({ readings, first, last }: Window): number {
  let mean = 0
  for (let place = first; place <= last; place++)
    mean += (heldAt(readings, place).value - mean) / (place - first + 1)
  return first > last ? Number.NaN : mean
}

/** The moving mean. */
export const mean: Taking = { says: 'its mean', of: meanOf }
