export { scale } from './instrument.tsx'
export { endsOf } from './ruled.ts'
export { Scale, scaleHeight } from './Scale.tsx'
