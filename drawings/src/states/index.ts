export { StateBar, stateBarHeight } from './StateBar.tsx'
export { stateSpans } from './stateSpans.ts'
