export { totals } from './instrument.tsx'
