export * from './addresses.ts'
