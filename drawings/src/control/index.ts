export { control } from './instrument.tsx'
