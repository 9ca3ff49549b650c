import type { Chapter, PlacedInstrument } from './dashboard.ts'

/**
 * The order of a chapter on a phone: that of the desk, or its own where somebody made one. What was added since stands after what it
 * follows on the desk; what is gone is passed over.
 */
export function phoneOrder({
  instruments,
  phone,
}: Pick<Chapter, 'instruments' | 'phone'>): PlacedInstrument[] {
  const desk = instruments ?? []
  if (phone === null) return [...desk]
  const stated = phone.flatMap((id) => desk.find((each) => each.id === id) ?? [])
  for (const [place, instrument] of desk.entries()) {
    if (stated.includes(instrument)) continue
    const before = desk[place - 1]
    stated.splice(before ? stated.indexOf(before) + 1 : 0, 0, instrument)
  }
  return stated
}
