export { type Recomputable, recomputed } from './recomputed.ts'
export * from './rereadChanges.ts'
