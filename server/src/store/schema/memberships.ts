import { roles } from '@jaunty-sparrow/core/access'
import { index, integer, pgTable, text, unique } from 'drizzle-orm/pg-core'
import { site } from './described.ts'
import { person } from './people.ts'

/** What a person may do at a site, or, where none is stated, at all of them. */
export const membership = pgTable(
  'membership',
  {
    personId: integer('person_id')
      .notNull()
      .references(() => person.id, { onDelete: 'cascade' }),
    siteId: integer('site_id').references(() => site.id, { onDelete: 'cascade' }),
    role: text('role', { enum: roles }).notNull(),
  },
  (table) => [
    unique('membership_person_site').on(table.personId, table.siteId).nullsNotDistinct(),
    index('membership_site').on(table.siteId),
  ],
)
