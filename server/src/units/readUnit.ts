import { type Measure, measureOf, UnitError } from '@jaunty-sparrow/core/units'
import { ProblemError } from '../http/problemResponse.ts'

/** What a unit measures. @throws ProblemError when it is no unit of UCUM */
export function readUnit(code: string): Measure {
  try {
    return measureOf(code)
  } catch (error) {
    throw error instanceof UnitError ? new ProblemError('invalid', error.message) : error
  }
}
