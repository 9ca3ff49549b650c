export { colour } from './instrument.tsx'
