export * from './proposeInstrument.ts'
export * from './rose.ts'
