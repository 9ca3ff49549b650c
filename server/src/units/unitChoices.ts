import type { ShownAs, UnitChoices } from '@jaunty-sparrow/contract'
import { between, isUnit, unitSymbol } from '@jaunty-sparrow/core/units'
import { LRUCache } from 'lru-cache'
import { ProblemError } from '../http/problemResponse.ts'
import { readUnit } from './readUnit.ts'

/** @throws ProblemError when one of the units cannot be shown in the other */
export function checkUnitChoices(choices: UnitChoices | undefined): void {
  const seen = new Set<string>()
  for (const { unit, as } of choices ?? []) {
    if (readUnit(unit).dimension !== readUnit(as).dimension)
      throw new ProblemError(
        'invalid',
        `${unitSymbol(unit)} cannot be shown in ${unitSymbol(as)}: they measure different things.`,
      )
    if (seen.has(unit))
      throw new ProblemError('invalid', `It is said twice in what ${unitSymbol(unit)} is shown.`)
    seen.add(unit)
  }
}

/**
 * How a signal is to be shown: the first of the choices that names its unit holds, so the person's come before the site's.
 * @returns null where it is shown in its own unit
 */
export function shownAs(unit: string | null, ...choices: readonly UnitChoices[]): ShownAs | null {
  const chosen = choices.flat().find((choice) => choice.unit === unit)
  return unit === null || !chosen || chosen.as === unit ? null : conversionTo(unit, chosen.as)
}

/** A list of devices asks for the same few again and again, and fractions take their time. */
const worked = new LRUCache<string, { readonly shown: ShownAs | null }>({ max: 500 })

function conversionTo(unit: string, as: string): ShownAs | null {
  const key = `${unit} ${as}`
  const known = worked.get(key)
  if (known) return known.shown
  // A device may have told a unit that is none.
  const conversion = isUnit(unit) ? between(unit, as) : undefined
  const shown = conversion ? { unit: as, ...conversion } : null
  worked.set(key, { shown })
  return shown
}
