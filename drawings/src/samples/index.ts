export { type SampleState, sampleOf, sampleStates } from './sampleOf.ts'
