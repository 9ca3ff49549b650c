export { rasterise } from './rasterise.ts'
