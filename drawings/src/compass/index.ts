export { Compass } from './Compass.tsx'
