import type { ShownAs, UnitChoices } from '@jaunty-sparrow/contract'
import { between, isUnit, unitSymbol } from '@jaunty-sparrow/core/units'
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
  if (unit === null || !chosen || chosen.as === unit || !isUnit(unit)) return null
  const conversion = between(unit, chosen.as)
  return conversion ? { unit: chosen.as, ...conversion } : null
}
