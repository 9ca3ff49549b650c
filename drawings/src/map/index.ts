export { map } from './instrument.tsx'
