import { sql } from 'drizzle-orm'
import { customType, integer, timestamp } from 'drizzle-orm/pg-core'

export const bytea = customType<{ data: Buffer }>({ dataType: () => 'bytea' })
export const xid8 = customType<{ data: string }>({ dataType: () => 'xid8' })
export const snapshot = customType<{ data: string }>({ dataType: () => 'pg_snapshot' })
export const instant = (name: string) => timestamp(name, { withTimezone: true, precision: 3 })
export const id = () => integer('id').primaryKey().generatedAlwaysAsIdentity()
export const createdAt = () => instant('created_at').notNull().default(sql`now()`)
