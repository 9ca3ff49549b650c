import type { Writing } from '@jaunty-sparrow/drawings/instrument'
import { dateFormat } from '../language/dateFormat.ts'
import { written } from '../language/valueText.ts'

const byZone = new Map<string, Writing>()

/** How numbers and times are written for whoever looks, by the clock of a place. */
export function writingIn(timeZone: string): Writing {
  const known = byZone.get(timeZone)
  if (known) return known
  const clock = dateFormat({ timeZone, hour: '2-digit', minute: '2-digit' })
  const made: Writing = { number: written, clock: (at) => clock.format(at) }
  byZone.set(timeZone, made)
  return made
}
