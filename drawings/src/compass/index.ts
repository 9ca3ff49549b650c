export { Compass } from './Compass.tsx'
export { compass } from './instrument.tsx'
