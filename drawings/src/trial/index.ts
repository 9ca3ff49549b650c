export * from './HoursOfDay.tsx'
export * from './Trial.tsx'
