import { integer, pgTable, smallint, text, unique } from 'drizzle-orm/pg-core'
import { bytea, createdAt, id, instant } from './columns.ts'
import { device } from './described.ts'

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
