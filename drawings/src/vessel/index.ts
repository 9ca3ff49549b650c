export { vessel } from './instrument.tsx'
