import { heldAt, type TakeBy, type Taking, type Window } from './window.ts'

/**
 * How much a counter counted from one reading to the next. Where it is lower than before it wrapped, if that is the shorter way
 * round; else it began again from 0.
 */
function counted(before: number, now: number, wrapsAt: number | null): number {
  if (now >= before) return now - before
  const around = wrapsAt === null ? Number.NaN : now + wrapsAt - before
  return around >= 0 && wrapsAt !== null && around <= wrapsAt / 2 ? around : now
}

/** How much was counted up to each reading of the span since the one before it; over a gap nothing is known. */
export function increaseOf({ readings, first, last, gap }: Window, wrapsAt: number | null): number {
  if (first > last) return Number.NaN
  let sum = 0
  for (let place = Math.max(first, 1); place <= last; place++) {
    const [before, now] = [heldAt(readings, place - 1), heldAt(readings, place)]
    if (now.at - before.at <= gap) sum += counted(before.value, now.value, wrapsAt)
  }
  return sum
}

/** How much a counter counted. */
export const counterIncrease: Taking<TakeBy<'counterIncrease'>> = {
  says: 'how much it counted',
  of: (window, { wrapsAt }) => increaseOf(window, wrapsAt),
}
