export * from './decimate.ts'
