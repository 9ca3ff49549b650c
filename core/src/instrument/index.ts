export * from './rose.ts'
export * from './scaleOf.ts'
