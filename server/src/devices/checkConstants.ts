import { functions, namedNumbers } from '@jaunty-sparrow/core/formula'
import { ProblemError } from '../http/problemResponse.ts'

/** @throws ProblemError when a constant is called as something else in the language of formulas already is */
export function checkConstants(constants: Readonly<Record<string, number>> | undefined): void {
  const taken = Object.keys(constants ?? {}).find(
    (name) => name === 'x' || name === 'field' || functions.has(name) || namedNumbers.has(name),
  )
  if (taken !== undefined)
    throw new ProblemError(
      'invalid',
      `"${taken}" means something else in a formula; call the constant otherwise.`,
    )
}
