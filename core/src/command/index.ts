export * from './command.ts'
export * from './interlock.ts'
export * from './wire.ts'
export * from './wishProblem.ts'
