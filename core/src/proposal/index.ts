export { guessGroups } from './guessGroups.ts'
export { guessUnits, type NamedNumber } from './guessUnit.ts'
