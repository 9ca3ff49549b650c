export * from './boundedText.ts'
