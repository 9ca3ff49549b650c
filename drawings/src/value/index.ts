export { value } from './instrument.tsx'
export { Spark } from './Spark.tsx'
export { trendWords } from './trendWords.ts'
