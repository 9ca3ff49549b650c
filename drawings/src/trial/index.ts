export * from './Trial.tsx'
