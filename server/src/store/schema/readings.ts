import type { Reading } from '@jaunty-sparrow/core/signal'
import { sql } from 'drizzle-orm'
import {
  bigint,
  boolean,
  doublePrecision,
  index,
  integer,
  json,
  jsonb,
  pgTable,
  primaryKey,
  smallint,
  text,
  uniqueIndex,
} from 'drizzle-orm/pg-core'
import { bytea, createdAt, id, instant, snapshot, xid8 } from './columns.ts'
import { signal } from './described.ts'
import { person } from './people.ts'

/**
 * One value of one signal at one instant. Partitioned by month of `at`, which the migration states by hand. There is no
 * foreign key to `signal`: checking it would cost every reading, and deleting a device removes its readings itself.
 */
export const reading = pgTable(
  'reading',
  {
    signalId: integer('signal_id').notNull(),
    quality: smallint('quality').notNull(),
    at: instant('at').notNull(),
    receivedAt: instant('received_at').notNull(),
    value: doublePrecision('value').notNull(),
    /** What was sent, where a conversion made the value of it. */
    raw: doublePrecision('raw'),
  },
  (table) => [primaryKey({ columns: [table.signalId, table.at] })],
)

/** Readings that are texts, partitioned like numbers. */
export const textReading = pgTable(
  'text_reading',
  {
    signalId: integer('signal_id').notNull(),
    quality: smallint('quality').notNull(),
    at: instant('at').notNull(),
    receivedAt: instant('received_at').notNull(),
    value: text('value').notNull(),
  },
  (table) => [primaryKey({ columns: [table.signalId, table.at] })],
)

/** Readings that are places, partitioned like numbers. */
export const positionReading = pgTable(
  'position_reading',
  {
    signalId: integer('signal_id').notNull(),
    quality: smallint('quality').notNull(),
    at: instant('at').notNull(),
    receivedAt: instant('received_at').notNull(),
    lat: doublePrecision('lat').notNull(),
    lon: doublePrecision('lon').notNull(),
    height: doublePrecision('height'),
  },
  (table) => [primaryKey({ columns: [table.signalId, table.at] })],
)

/** Changes of many readings that are carried out piece by piece, so that one that was interrupted goes on. */
export const largeChange = pgTable('large_change', {
  id: id(),
  what: jsonb('what').notNull(),
  /** How far it has come. */
  progress: jsonb('progress').notNull().default({}),
  failure: text('failure'),
  finishedAt: instant('finished_at'),
  createdAt: createdAt(),
})

/** What is built upon readings hears of each change of them here; it is written in the same transaction. */
export const afterCommit = pgTable(
  'after_commit',
  {
    id: bigint('id', { mode: 'number' }).generatedAlwaysAsIdentity(),
    xid: xid8('xid').notNull().default(sql`pg_current_xact_id()`),
    kind: smallint('kind').notNull(),
    signals: integer('signals').array().notNull(),
    fromAt: instant('from_at').array().notNull(),
    toAt: instant('to_at').array().notNull(),
    /** What came in, stored or not: how many readings of a signal within a minute, and when the last of them did. */
    heardSignals: integer('heard_signals').array().notNull().default(sql`'{}'`),
    heardAt: instant('heard_at').array().notNull().default(sql`'{}'`),
    heard: integer('heard').array().notNull().default(sql`'{}'`),
    /** The readings that a storing rule kept out of the tables; what follows from readings hears of them too. */
    thinned: json('thinned').$type<readonly Reading[]>(),
  },
  (table) => [primaryKey({ columns: [table.xid, table.id] })],
)

/** How far each consumer of what was committed has come. */
export const consumer = pgTable('consumer', {
  name: text('name').primaryKey(),
  /** What was committed in this snapshot of the database it has consumed. */
  seen: snapshot('seen').notNull(),
  /** The cluster whose transactions the snapshot speaks of: restored into another one it means nothing. */
  cluster: bigint('cluster', { mode: 'bigint' }).notNull(),
})

/** The buckets of one level of a signal, so many on a page, see `writeSlots` of core. */
export const rollupPage = pgTable(
  'rollup_page',
  {
    signalId: integer('signal_id')
      .notNull()
      .references(() => signal.id, { onDelete: 'cascade' }),
    /** How long a bucket is, ms. */
    level: integer('level').notNull(),
    page: integer('page').notNull(),
    body: bytea('body').notNull(),
  },
  (table) => [primaryKey({ columns: [table.signalId, table.level, table.page] })],
)

/** The pages of the finest level that are not what their readings come to, or not any more. */
export const duePage = pgTable(
  'due_page',
  {
    signalId: integer('signal_id')
      .notNull()
      .references(() => signal.id, { onDelete: 'cascade' }),
    page: integer('page').notNull(),
    since: instant('since').notNull(),
  },
  (table) => [primaryKey({ columns: [table.signalId, table.page] }), index('due_page_oldest').on(table.page)],
)

/**
 * What a device sent, byte for byte, and what came of it. Partitioned by day of `received_at`, which the migration states by
 * hand, and dropped after its retention. The server makes the ids: they grow with the time, see `messageId`.
 */
export const message = pgTable(
  'message',
  {
    id: bigint('id', { mode: 'number' }).notNull(),
    receivedAt: instant('received_at').notNull(),
    door: text('door').notNull(),
    /** 0 when the sender was not recognized. */
    deviceId: integer('device_id').notNull(),
    /** Whom the sender said to be; for a device that was recognized its address. */
    sender: text('sender').notNull(),
    mediaType: text('media_type').notNull(),
    tail: text('tail').notNull(),
    /** The topic, when it was not below the sender's own address; else empty. */
    topic: text('topic').notNull().default(''),
    /** Whether a person brought it from the past: it tells nothing of what is now. */
    byHand: boolean('by_hand').notNull().default(false),
    body: bytea('body').notNull(),
    outcome: text('outcome', { enum: ['stored', 'partly', 'refused', 'throttled', 'unclaimed'] }).notNull(),
    stored: integer('stored').notNull(),
    /** Why, in words, when anything was refused; else empty. */
    reason: text('reason').notNull(),
  },
  (table) => [
    // It serves a device's own list as well as, device by device, the list of all.
    primaryKey({ columns: [table.deviceId, table.id, table.receivedAt] }),
    // What nobody has claimed is rare, and has to be found among everything.
    index('message_unclaimed').on(table.deviceId, table.id).where(sql`outcome = 'unclaimed'`),
  ],
)

/** A span of a signal whose values were made anew of what was sent. */
export const recomputation = pgTable(
  'recomputation',
  {
    id: id(),
    signalId: integer('signal_id')
      .notNull()
      .references(() => signal.id, { onDelete: 'cascade' }),
    fromAt: instant('from_at').notNull(),
    toAt: instant('to_at').notNull(),
    /** The formula it was made by; null for none. */
    conversion: text('conversion'),
    changed: integer('changed').notNull().default(0),
    doneAt: instant('done_at'),
    undoneAt: instant('undone_at'),
    personId: integer('person_id').references(() => person.id, { onDelete: 'set null' }),
    createdAt: createdAt(),
  },
  (table) => [
    index('recomputation_signal').on(table.signalId),
    // Of one signal one at a time: two at once would take each other's values for what they were before.
    uniqueIndex('recomputation_going_on').on(table.signalId).where(sql`done_at is null`),
  ],
)

/** What readings were before they were made anew, many in a row, so that they can be put back to the digit. */
export const recomputationPiece = pgTable(
  'recomputation_piece',
  {
    id: id(),
    recomputationId: integer('recomputation_id')
      .notNull()
      .references(() => recomputation.id, { onDelete: 'cascade' }),
    /** Epoch ms. */
    at: doublePrecision('at').array().notNull(),
    value: doublePrecision('value').array().notNull(),
    quality: smallint('quality').array().notNull(),
  },
  (table) => [index('recomputation_piece_of').on(table.recomputationId)],
)
