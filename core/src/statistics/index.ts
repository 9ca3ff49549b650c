export * from './trendOf.ts'
