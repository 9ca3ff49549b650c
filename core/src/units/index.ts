export * from './unit.ts'
