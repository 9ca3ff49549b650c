import type { UnitChoices, Wire } from '@jaunty-sparrow/contract'
import {
  type Cadence,
  type Choice,
  type Doubt,
  type SignalSettings,
  signalKinds,
  signalOrigins,
} from '@jaunty-sparrow/core/signal'
import { sql } from 'drizzle-orm'
import {
  doublePrecision,
  index,
  integer,
  jsonb,
  pgTable,
  text,
  unique,
  uniqueIndex,
} from 'drizzle-orm/pg-core'
import { bytea, createdAt, id, instant } from './columns.ts'
import { person } from './people.ts'

export const site = pgTable('site', {
  id: id(),
  name: text('name').notNull().unique(),
  timeZone: text('time_zone').notNull(),
  /** WGS 84, degrees; null where nobody has said. */
  lat: doublePrecision('lat'),
  lon: doublePrecision('lon'),
  /** What is in one unit is seen in another by all who did not choose otherwise. */
  units: jsonb('units').$type<UnitChoices>().notNull().default([]),
  createdAt: createdAt(),
})

/** `name` is null for the own kit of a one-off device. */
export const kit = pgTable('kit', {
  id: id(),
  name: text('name').unique(),
  /** How often its devices speak; null where it is learned. */
  cadence: jsonb('cadence').$type<Cadence>(),
  /** Numbers that conversions may name; a device may have its own. */
  constants: jsonb('constants').$type<Record<string, number>>().notNull().default({}),
  /** How it must hang, what to mind. */
  notes: text('notes').notNull().default(''),
  /** How it looks: a data URL; null where nobody has taken a picture. */
  picture: text('picture'),
  /** Which wire goes where. */
  wiring: jsonb('wiring').$type<Wire[]>().notNull().default([]),
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
  /** The one before, which is good for a while yet; null where there is none. */
  formerSecretHash: bytea('former_secret_hash'),
  formerSecretUntil: instant('former_secret_until'),
  /** Stated allowance; null where the default holds. */
  messagesPerMinute: integer('messages_per_minute'),
  readingsPerMinute: integer('readings_per_minute'),
  messageBytes: integer('message_bytes'),
  /** Topic filters outside its own branch that its key may publish to. */
  reach: text('reach').array().notNull().default([]),
  /** Constants of its own, in the place of those of its kit. */
  constants: jsonb('constants').$type<Record<string, number>>().notNull().default({}),
  /** Where at its site it is; empty where nobody has said. */
  place: text('place').notNull().default(''),
  /** What its parts are called by people, by what the device calls them. */
  partNames: jsonb('part_names').$type<Record<string, string>>().notNull().default({}),
  /** Since when it is out of service and nothing is taken of it; null while it is in service. */
  retiredAt: instant('retired_at'),
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
    /** Why somebody does not trust it just now; null where nobody doubts it. */
    doubt: jsonb('doubt').$type<Doubt>(),
  },
  (table) => [unique('signal_device_definition_part').on(table.deviceId, table.definitionId, table.part)],
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
