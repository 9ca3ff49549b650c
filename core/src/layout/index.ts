export * from './flowLayout.ts'
