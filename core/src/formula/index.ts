export {
  compileFormula,
  type Formula,
  type FormulaProblem,
  longestFormula,
  type Outcome,
  type Scope,
} from './compileFormula.ts'
export { functions } from './language.ts'
