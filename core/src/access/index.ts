export * from './access.ts'
export * from './grant.ts'
export * from './scope.ts'
