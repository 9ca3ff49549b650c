export * from './calibration.ts'
