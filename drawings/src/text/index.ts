export { text } from './instrument.tsx'
