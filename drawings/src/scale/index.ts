export { hatching } from './hatching.ts'
export { Scale, scaleHeight } from './Scale.tsx'
