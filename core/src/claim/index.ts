export * from './claim.ts'
export * from './topicPattern.ts'
