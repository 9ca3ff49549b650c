export * from './noticeText.ts'
export * from './retryAfter.ts'
export * from './telling.ts'
