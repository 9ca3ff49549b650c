export { log } from './instrument.tsx'
