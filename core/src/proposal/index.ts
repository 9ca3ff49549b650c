export { guessFaults, type ProposedFault, tellingValues } from './guessFaults.ts'
export { guessGroups } from './guessGroups.ts'
export { guessUnits, type NamedNumber } from './guessUnit.ts'
