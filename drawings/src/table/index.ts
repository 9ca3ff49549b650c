export { table } from './instrument.tsx'
