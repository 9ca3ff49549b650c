import type { Preferences } from '@jaunty-sparrow/contract'
import { roles, scopes } from '@jaunty-sparrow/core/access'
import { sql } from 'drizzle-orm'
import { boolean, index, integer, jsonb, pgTable, text } from 'drizzle-orm/pg-core'
import { bytea, createdAt, id, instant } from './columns.ts'

export const person = pgTable('person', {
  id: id(),
  name: text('name').notNull().unique(),
  passwordHash: text('password_hash').notNull(),
  preferences: jsonb('preferences').$type<Partial<Preferences>>().notNull().default({}),
  createdAt: createdAt(),
})

export const session = pgTable(
  'session',
  {
    tokenHash: bytea('token_hash').primaryKey(),
    id: integer('id').generatedAlwaysAsIdentity().notNull().unique(),
    personId: integer('person_id')
      .notNull()
      .references(() => person.id, { onDelete: 'cascade' }),
    csrfToken: text('csrf_token').notNull(),
    expiresAt: instant('expires_at').notNull(),
    createdAt: createdAt(),
    usedAt: instant('used_at').notNull().default(sql`now()`),
    browser: text('browser').notNull().default(''),
    /** Whether it began by a link: who lost the password may then take a new one without it. */
    byLink: boolean('by_link').notNull().default(false),
  },
  (table) => [index('session_expires_at').on(table.expiresAt)],
)

export const signInLink = pgTable('sign_in_link', {
  tokenHash: bytea('token_hash').primaryKey(),
  personId: integer('person_id')
    .notNull()
    .references(() => person.id, { onDelete: 'cascade' }),
  expiresAt: instant('expires_at').notNull(),
})

/** A link that lets somebody in, once. It holds no more than whoever made it may still give when it is taken. */
export const invitation = pgTable('invitation', {
  id: id(),
  tokenHash: bytea('token_hash').notNull().unique(),
  role: text('role', { enum: roles }).notNull(),
  /** Null for all sites. */
  siteIds: integer('site_ids').array(),
  note: text('note').notNull().default(''),
  personId: integer('person_id')
    .notNull()
    .references(() => person.id, { onDelete: 'cascade' }),
  expiresAt: instant('expires_at').notNull(),
})

/** A key for a program, which may do no more than the person who made it. */
export const programToken = pgTable('program_token', {
  id: id(),
  tokenHash: bytea('token_hash').notNull().unique(),
  name: text('name').notNull(),
  personId: integer('person_id')
    .notNull()
    .references(() => person.id, { onDelete: 'cascade' }),
  scopes: text('scopes', { enum: scopes }).array().notNull(),
  /** Null for wherever the person has a role. */
  siteIds: integer('site_ids').array(),
  /** Which devices it may send for. */
  deviceIds: integer('device_ids').array().notNull().default([]),
  expiresAt: instant('expires_at'),
  usedAt: instant('used_at'),
  createdAt: createdAt(),
})
