import type { KeptDashboard } from '@jaunty-sparrow/contract'
import { roles } from '@jaunty-sparrow/core/access'
import { index, integer, jsonb, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { id, instant } from './columns.ts'
import { site } from './described.ts'
import { person } from './people.ts'

/** A page that somebody made, as it was published last. */
export const dashboard = pgTable(
  'dashboard',
  {
    id: id(),
    siteId: integer('site_id')
      .notNull()
      .references(() => site.id, { onDelete: 'cascade' }),
    /** Whose it is; null for everyone's. */
    personId: integer('person_id').references(() => person.id, { onDelete: 'cascade' }),
    name: text('name').notNull(),
    /** Who sees it, where it is everyone's. */
    role: text('role', { enum: roles }).notNull(),
    version: integer('version').notNull(),
    shows: jsonb('shows').$type<KeptDashboard['shows']>().notNull(),
    publishedAt: instant('published_at').notNull(),
    by: text('by'),
  },
  (table) => [index('dashboard_site').on(table.siteId)],
)

/** What a page showed before. */
export const dashboardVersion = pgTable(
  'dashboard_version',
  {
    dashboardId: integer('dashboard_id')
      .notNull()
      .references(() => dashboard.id, { onDelete: 'cascade' }),
    version: integer('version').notNull(),
    shows: jsonb('shows').$type<KeptDashboard['shows']>().notNull(),
    at: instant('at').notNull(),
    by: text('by'),
  },
  (table) => [primaryKey({ columns: [table.dashboardId, table.version] })],
)
