import { type Preferences, pasts } from '@jaunty-sparrow/contract'
import { roles, scopes } from '@jaunty-sparrow/core/access'
import type { StoredValue } from '@jaunty-sparrow/core/rereading'
import type { Reading } from '@jaunty-sparrow/core/signal'
import {
  type Cadence,
  type Choice,
  type SignalSettings,
  signalKinds,
  signalOrigins,
} from '@jaunty-sparrow/core/signal'
import { sql } from 'drizzle-orm'
import {
  bigint,
  boolean,
  customType,
  doublePrecision,
  index,
  integer,
  json,
  jsonb,
  pgTable,
  primaryKey,
  smallint,
  text,
  timestamp,
  unique,
  uniqueIndex,
} from 'drizzle-orm/pg-core'

const bytea = customType<{ data: Buffer }>({ dataType: () => 'bytea' })
const xid8 = customType<{ data: string }>({ dataType: () => 'xid8' })
const snapshot = customType<{ data: string }>({ dataType: () => 'pg_snapshot' })
const instant = (name: string) => timestamp(name, { withTimezone: true, precision: 3 })
const id = () => integer('id').primaryKey().generatedAlwaysAsIdentity()
const createdAt = () => instant('created_at').notNull().default(sql`now()`)

export const person = pgTable('person', {
  id: id(),
  name: text('name').notNull().unique(),
  passwordHash: text('password_hash').notNull(),
  preferences: jsonb('preferences').$type<Partial<Preferences>>().notNull().default({}),
  createdAt: createdAt(),
})

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

export const site = pgTable('site', {
  id: id(),
  name: text('name').notNull().unique(),
  timeZone: text('time_zone').notNull(),
  /** WGS 84, degrees; null where nobody has said. */
  lat: doublePrecision('lat'),
  lon: doublePrecision('lon'),
  createdAt: createdAt(),
})

/** `name` is null for the own kit of a one-off device. */
export const kit = pgTable('kit', {
  id: id(),
  name: text('name').unique(),
  /** How often its devices speak; null where it is learned. */
  cadence: jsonb('cadence').$type<Cadence>(),
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
    kind: text('kind', { enum: signalKinds }).notNull(),
    origin: text('origin', { enum: signalOrigins }).notNull().default('measured'),
    choices: jsonb('choices').$type<readonly Choice[]>().notNull().default([]),
    state: text('state', { enum: ['suggested', 'accepted', 'ignored'] }).notNull(),
    /** What the kit says of it, where that is not what is usual. */
    settings: jsonb('settings').$type<Partial<SignalSettings>>().notNull().default({}),
    createdAt: createdAt(),
  },
  (table) => [
    index('signal_definition_kit').on(table.kitId),
    // Two messages at once, also at two servers, suggest one signal for a field.
    uniqueIndex('signal_definition_suggested').on(table.kitId, table.field).where(sql`state = 'suggested'`),
  ],
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
  /** Stated allowance; null where the default holds. */
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
    /** Which of like parts it is of, as the device calls it; empty where there is only one. */
    part: text('part').notNull().default(''),
    /** What this device has its own of. */
    own: jsonb('own').$type<Partial<SignalSettings>>().notNull().default({}),
  },
  (table) => [unique('signal_device_definition_part').on(table.deviceId, table.definitionId, table.part)],
)

/** What anybody may look at who has the link. */
export const shareLink = pgTable(
  'share_link',
  {
    id: id(),
    tokenHash: bytea('token_hash').notNull().unique(),
    name: text('name').notNull(),
    deviceId: integer('device_id')
      .notNull()
      .references(() => device.id, { onDelete: 'cascade' }),
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

/** What was said of a signal from an instant on, whole: by its kit, or for one device, where `signalId` is stated. */
export const descriptionVersion = pgTable(
  'description_version',
  {
    id: id(),
    definitionId: integer('definition_id')
      .notNull()
      .references(() => signalDefinition.id, { onDelete: 'cascade' }),
    signalId: integer('signal_id').references(() => signal.id, { onDelete: 'cascade' }),
    validFrom: instant('valid_from').notNull(),
    described: jsonb('described').notNull(),
    personId: integer('person_id').references(() => person.id, { onDelete: 'set null' }),
  },
  (table) => [index('description_version_definition').on(table.definitionId, table.validFrom)],
)

/** Corrections of a signal that were found against a reference; see `Calibration` in core. */
export const calibration = pgTable(
  'calibration',
  {
    id: id(),
    signalId: integer('signal_id')
      .notNull()
      .references(() => signal.id, { onDelete: 'cascade' }),
    gain: doublePrecision('gain').notNull(),
    offset: doublePrecision('offset').notNull(),
    validFrom: instant('valid_from').notNull(),
    /** How it was found, in words. */
    evidence: text('evidence').notNull(),
    personId: integer('person_id').references(() => person.id, { onDelete: 'set null' }),
    takenBackAt: instant('taken_back_at'),
    createdAt: createdAt(),
  },
  (table) => [index('calibration_signal').on(table.signalId)],
)

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

/** The serial port a device is wired to, and the server on whose machine it is; null for whichever starts first. */
export const serialPort = pgTable(
  'serial_port',
  {
    deviceId: integer('device_id')
      .primaryKey()
      .references(() => device.id, { onDelete: 'cascade' }),
    server: text('server'),
    path: text('path').notNull(),
    speed: integer('speed').notNull(),
    /** Names for the values of a line of CSV; null when lines name their values themselves. */
    csvHeader: text('csv_header'),
  },
  (table) => [unique('serial_port_server_path').on(table.server, table.path)],
)

/** When each server lived last: `at` by a clock that it trusted, `beatenAt` by the clock of the database. */
export const heartbeat = pgTable('heartbeat', {
  server: text('server').primaryKey(),
  at: instant('at'),
  beatenAt: instant('beaten_at').notNull(),
})

/** What a device said last of its presence over MQTT, to be told to whoever subscribes; it outlives a restart. */
export const retainedPresence = pgTable('retained_presence', {
  deviceId: integer('device_id')
    .primaryKey()
    .references(() => device.id, { onDelete: 'cascade' }),
  payload: bytea('payload').notNull(),
  qos: smallint('qos').notNull(),
})

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
