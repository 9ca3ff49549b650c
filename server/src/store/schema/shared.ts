import { pasts } from '@jaunty-sparrow/contract'
import { index, integer, pgTable, text } from 'drizzle-orm/pg-core'
import { bytea, createdAt, id, instant } from './columns.ts'
import { dashboard } from './dashboards.ts'
import { device, signal } from './described.ts'
import { person } from './people.ts'

/** What anybody may look at who has the link. */
export const shareLink = pgTable(
  'share_link',
  {
    id: id(),
    tokenHash: bytea('token_hash').notNull().unique(),
    name: text('name').notNull(),
    /** What is shown: a device, or a dashboard. */
    deviceId: integer('device_id').references(() => device.id, { onDelete: 'cascade' }),
    dashboardId: integer('dashboard_id').references(() => dashboard.id, { onDelete: 'cascade' }),
    /** The one instrument of the dashboard that is shown; null for all of it. */
    instrumentId: text('instrument_id'),
    /** The one signal that is shown; null for the whole device. */
    signalId: integer('signal_id').references(() => signal.id, { onDelete: 'cascade' }),
    past: text('past', { enum: pasts }).notNull(),
    /** The origins whose pages may hold it in a frame. */
    frameAncestors: text('frame_ancestors').array().notNull().default([]),
    personId: integer('person_id').references(() => person.id, { onDelete: 'set null' }),
    expiresAt: instant('expires_at'),
    looks: integer('looks').notNull().default(0),
    lookedAt: instant('looked_at'),
    createdAt: createdAt(),
  },
  (table) => [index('share_link_device').on(table.deviceId)],
)
