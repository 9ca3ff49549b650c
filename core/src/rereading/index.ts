export * from './rereadChanges.ts'
