export {
  compileFormula,
  type Formula,
  type FormulaProblem,
  type Outcome,
  type Scope,
} from './compileFormula.ts'
export { constantPattern } from './constantPattern.ts'
export { constantsOf } from './constantsOf.ts'
export { formulaDocs } from './formulaDocs.ts'
export { functions, namedNumbers } from './language.ts'
export { longestFormula } from './longestFormula.ts'
