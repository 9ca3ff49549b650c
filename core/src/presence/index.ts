export * from './presence.ts'
