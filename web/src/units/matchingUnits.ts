import { isUnit, unitSymbol, usualUnits } from '@jaunty-sparrow/core/units'

/** A unit as it is offered to be picked. */
export interface OfferedUnit {
  readonly code: string
  readonly symbol: string
  readonly name: string
}

const usual: readonly (OfferedUnit & { readonly quantity: string })[] = usualUnits.map((unit) => ({
  ...unit,
  symbol: unitSymbol(unit.code),
}))

/** How well what was typed fits: nothing is better than the whole, then a beginning, then a part. */
function rankOf(typed: string, names: readonly string[]): number {
  if (names.includes(typed)) return 0
  if (names.some((name) => name.startsWith(typed))) return 1
  return names.some((name) => name.includes(typed)) ? 2 : 3
}

/**
 * The units that what was typed may mean, by symbol, name, quantity or code, the best first; what is another code of UCUM is
 * offered as well.
 */
export function matchingUnits(typed: string, most: number): readonly OfferedUnit[] {
  const exact = typed.trim()
  // Greek and micro look the same, and people write u.
  const asked = exact.toLowerCase().replaceAll(/[μµ]/g, 'u')
  if (asked === '') return usual.slice(0, most)
  const plain = (text: string) => text.toLowerCase().replaceAll('µ', 'u')
  const found = usual
    .map((unit) => ({
      unit,
      rank:
        unit.code === exact || unit.symbol === exact
          ? -1
          : rankOf(asked, [unit.code, unit.symbol, unit.name, unit.quantity].map(plain)),
    }))
    .filter(({ rank }) => rank < 3)
    .sort((a, b) => a.rank - b.rank)
    .map(({ unit }) => unit)
  const isOther = isUnit(exact) && !found.some(({ code }) => code === exact)
  const other = { code: exact, symbol: unitSymbol(exact), name: 'by its code' }
  return isOther ? [...found.slice(0, most - 1), other] : found.slice(0, most)
}
