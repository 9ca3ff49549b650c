export { states } from './instrument.tsx'
export { StateBar, stateBarHeight } from './StateBar.tsx'
export { stateSpans } from './stateSpans.ts'
