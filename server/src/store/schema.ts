// All tables; the statements that made them are in `migrations`.
export * from './schema/derived.ts'
export * from './schema/described.ts'
export * from './schema/doors.ts'
export * from './schema/happened.ts'
export * from './schema/memberships.ts'
export * from './schema/people.ts'
export * from './schema/readings.ts'
