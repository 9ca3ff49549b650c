export { picture } from './instrument.tsx'
