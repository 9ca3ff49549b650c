export { type Night, nights, type Place } from './nights.ts'
