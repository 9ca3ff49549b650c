export { course } from './instrument.tsx'
