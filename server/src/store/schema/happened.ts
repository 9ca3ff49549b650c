import type { StoredValue } from '@jaunty-sparrow/core/rereading'
import { sql } from 'drizzle-orm'
import { index, integer, jsonb, pgTable, primaryKey, text, uniqueIndex } from 'drizzle-orm/pg-core'
import { createdAt, id, instant } from './columns.ts'
import { device, kit, signal, site } from './described.ts'
import { person } from './people.ts'

/** What happened at a time: notes, alarms, commands, drop-outs, changes of kits, devices and people. */
export const datedEvent = pgTable(
  'dated_event',
  {
    id: id(),
    at: instant('at').notNull(),
    /** When it was over; null for what has no length, or goes on. */
    until: instant('until'),
    kind: text('kind').notNull(),
    siteId: integer('site_id').references(() => site.id, { onDelete: 'cascade' }),
    kitId: integer('kit_id').references(() => kit.id, { onDelete: 'set null' }),
    deviceId: integer('device_id').references(() => device.id, { onDelete: 'set null' }),
    signalId: integer('signal_id').references(() => signal.id, { onDelete: 'set null' }),
    /** The alarm that was raised. */
    alarmId: text('alarm_id'),
    server: text('server'),
    personId: integer('person_id').references(() => person.id, { onDelete: 'set null' }),
    /** Their name, for when the person is gone. */
    personName: text('person_name'),
    token: text('token'),
    change: jsonb('change').$type<{ before: Record<string, unknown>; after: Record<string, unknown> }>(),
    says: text('says').notNull(),
  },
  (table) => [
    index('dated_event_at').on(table.at),
    index('dated_event_device').on(table.deviceId, table.at),
    index('dated_event_site').on(table.siteId, table.at),
    // A drop-out that goes on is written once, however many servers see it.
    uniqueIndex('dated_event_open_drop_out')
      .on(table.deviceId)
      .where(sql`kind = 'drop-out' and until is null`),
    uniqueIndex('dated_event_open_alarm').on(table.alarmId).where(sql`kind = 'alarm' and until is null`),
    uniqueIndex('dated_event_alarm').on(table.alarmId, table.kind, table.at).where(sql`alarm_id is not null`),
  ],
)

/** When a reading of each device came in last, so that it is known longer than its messages are kept. */
export const heard = pgTable('heard', {
  deviceId: integer('device_id')
    .primaryKey()
    .references(() => device.id, { onDelete: 'cascade' }),
  at: instant('at').notNull(),
})

/** When a reading of each signal came in last, stored or not. */
export const signalHeard = pgTable('signal_heard', {
  signalId: integer('signal_id')
    .primaryKey()
    .references(() => signal.id, { onDelete: 'cascade' }),
  at: instant('at').notNull(),
})

/** How many readings came in at a site, by the minute they arrived in. */
export const arrivalCount = pgTable(
  'arrival_count',
  {
    siteId: integer('site_id')
      .notNull()
      .references(() => site.id, { onDelete: 'cascade' }),
    /** Of the epoch. */
    minute: integer('minute').notNull(),
    readings: integer('readings').notNull(),
  },
  (table) => [primaryKey({ columns: [table.siteId, table.minute] })],
)

/** Thinned messages of a device that were run through again, so that it can be undone. */
export const rereading = pgTable('rereading', {
  id: id(),
  deviceId: integer('device_id')
    .notNull()
    .references(() => device.id, { onDelete: 'cascade' }),
  messages: integer('messages').notNull(),
  added: integer('added').notNull(),
  changed: integer('changed').notNull(),
  removed: integer('removed').notNull(),
  undoneAt: instant('undone_at'),
  createdAt: createdAt(),
})

/** A reading as it was before reading again, and as it was after; null where there was none. */
export const rereadingChange = pgTable(
  'rereading_change',
  {
    rereadingId: integer('rereading_id')
      .notNull()
      .references(() => rereading.id, { onDelete: 'cascade' }),
    signalId: integer('signal_id').notNull(),
    at: instant('at').notNull(),
    receivedAt: instant('received_at').notNull(),
    before: jsonb('before').$type<StoredValue>(),
    after: jsonb('after').$type<StoredValue>(),
  },
  (table) => [primaryKey({ columns: [table.rereadingId, table.signalId, table.at] })],
)

/** When the database was backed up, as whoever does so writes down. */
export const backupMade = pgTable('backup_made', {
  at: instant('at').primaryKey(),
})
