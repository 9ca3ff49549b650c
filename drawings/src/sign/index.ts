export { sign } from './instrument.tsx'
