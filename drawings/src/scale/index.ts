export { AskedTab } from './AskedTab.tsx'
export { scale } from './instrument.tsx'
export { endsOf, ruled } from './ruled.ts'
export { Scale, scaleHeight } from './Scale.tsx'
