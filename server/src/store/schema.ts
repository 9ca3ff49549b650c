import type { Keep } from '@jaunty-sparrow/core'
import { sql } from 'drizzle-orm'
import {
  bigint,
  customType,
  doublePrecision,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  smallint,
  text,
  timestamp,
  unique,
} from 'drizzle-orm/pg-core'

const bytea = customType<{ data: Buffer }>({ dataType: () => 'bytea' })
const instant = (name: string) => timestamp(name, { withTimezone: true, precision: 3 })
const id = () => integer('id').primaryKey().generatedAlwaysAsIdentity()
const createdAt = () => instant('created_at').notNull().default(sql`now()`)

export const person = pgTable('person', {
  id: id(),
  name: text('name').notNull().unique(),
  passwordHash: text('password_hash').notNull(),
  role: text('role', { enum: ['viewer', 'owner'] }).notNull(),
  createdAt: createdAt(),
})

export const session = pgTable(
  'session',
  {
    tokenHash: bytea('token_hash').primaryKey(),
    personId: integer('person_id')
      .notNull()
      .references(() => person.id, { onDelete: 'cascade' }),
    csrfToken: text('csrf_token').notNull(),
    expiresAt: instant('expires_at').notNull(),
    createdAt: createdAt(),
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

export const site = pgTable('site', {
  id: id(),
  name: text('name').notNull().unique(),
  timeZone: text('time_zone').notNull(),
  createdAt: createdAt(),
})

/** `name` is null for the own kit of a one-off device. */
export const kit = pgTable('kit', {
  id: id(),
  name: text('name').unique(),
  cadenceSeconds: doublePrecision('cadence_seconds'),
  createdAt: createdAt(),
})

export const signalDefinition = pgTable(
  'signal_definition',
  {
    id: id(),
    kitId: integer('kit_id')
      .notNull()
      .references(() => kit.id, { onDelete: 'cascade' }),
    field: text('field').notNull(),
    name: text('name').notNull(),
    kind: text('kind', { enum: ['number', 'switch'] }).notNull(),
    state: text('state', { enum: ['suggested', 'accepted', 'ignored'] }).notNull(),
    unit: text('unit'),
    rangeLow: doublePrecision('range_low'),
    rangeHigh: doublePrecision('range_high'),
    keep: jsonb('keep').$type<Keep>().notNull().default({ by: 'every' }),
    createdAt: createdAt(),
  },
  (table) => [unique('signal_definition_kit_field').on(table.kitId, table.field)],
)

export const device = pgTable('device', {
  id: id(),
  siteId: integer('site_id')
    .notNull()
    .references(() => site.id),
  kitId: integer('kit_id')
    .notNull()
    .references(() => kit.id),
  name: text('name').notNull(),
  address: text('address').notNull().unique(),
  secretHash: bytea('secret_hash').notNull(),
  /** Stated limits; null where the default holds. */
  messagesPerMinute: integer('messages_per_minute'),
  readingsPerMinute: integer('readings_per_minute'),
  messageBytes: integer('message_bytes'),
  /** Topic filters outside its own branch that its key may publish to. */
  reach: text('reach').array().notNull().default([]),
  createdAt: createdAt(),
})

export const signal = pgTable(
  'signal',
  {
    id: id(),
    deviceId: integer('device_id')
      .notNull()
      .references(() => device.id, { onDelete: 'cascade' }),
    definitionId: integer('definition_id')
      .notNull()
      .references(() => signalDefinition.id, { onDelete: 'cascade' }),
  },
  (table) => [unique('signal_device_definition').on(table.deviceId, table.definitionId)],
)

/** Whose messages are that a key sends for others; see `Claim` in core for what each column means. */
export const claim = pgTable('claim', {
  id: id(),
  keyId: integer('key_id')
    .notNull()
    .references(() => device.id, { onDelete: 'cascade' }),
  by: text('by', { enum: ['topic', 'field'] }).notNull(),
  /** The topic pattern, or the pointer of the field. */
  place: text('place').notNull(),
  value: text('value'),
  part: text('part').notNull().default(''),
  deviceId: integer('device_id').references(() => device.id, { onDelete: 'cascade' }),
  createdAt: createdAt(),
})

/** The serial port a device is wired to. */
export const serialPort = pgTable('serial_port', {
  deviceId: integer('device_id')
    .primaryKey()
    .references(() => device.id, { onDelete: 'cascade' }),
  path: text('path').notNull().unique(),
  speed: integer('speed').notNull(),
  /** Names for the values of a line of CSV; null when lines name their values themselves. */
  csvHeader: text('csv_header'),
})

/** Kept messages of a device that were run through again, so that it can be undone. */
export const replay = pgTable('replay', {
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

/** A reading as it was before a replay, and as it was after; null where there was none. */
export const replayChange = pgTable(
  'replay_change',
  {
    replayId: integer('replay_id')
      .notNull()
      .references(() => replay.id, { onDelete: 'cascade' }),
    signalId: integer('signal_id').notNull(),
    at: instant('at').notNull(),
    receivedAt: instant('received_at').notNull(),
    valueBefore: doublePrecision('value_before'),
    qualityBefore: smallint('quality_before'),
    valueAfter: doublePrecision('value_after'),
    qualityAfter: smallint('quality_after'),
  },
  (table) => [primaryKey({ columns: [table.replayId, table.signalId, table.at] })],
)

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
  },
  (table) => [primaryKey({ columns: [table.signalId, table.at] })],
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
