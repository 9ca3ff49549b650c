import { type CommandState, commandStates } from '@jaunty-sparrow/core/command'
import type { SignalValue } from '@jaunty-sparrow/core/signal'
import { sql } from 'drizzle-orm'
import { index, integer, jsonb, pgTable, text, uniqueIndex } from 'drizzle-orm/pg-core'
import { id, instant } from './columns.ts'
import { device, signal } from './described.ts'
import { person } from './people.ts'

/** Requests to controlled signals. Those that have not ended are what waits to go out: nothing of them is in memory alone. */
export const command = pgTable(
  'command',
  {
    id: id(),
    signalId: integer('signal_id')
      .notNull()
      .references(() => signal.id, { onDelete: 'cascade' }),
    deviceId: integer('device_id')
      .notNull()
      .references(() => device.id, { onDelete: 'cascade' }),
    value: jsonb('value').$type<SignalValue>().notNull(),
    state: text('state', { enum: commandStates }).$type<CommandState>().notNull(),
    requestedAt: instant('requested_at').notNull(),
    until: instant('until').notNull(),
    sentAt: instant('sent_at'),
    settledAt: instant('settled_at'),
    reported: jsonb('reported').$type<SignalValue>(),
    answer: text('answer').notNull(),
    personId: integer('person_id').references(() => person.id, { onDelete: 'set null' }),
    /** Their name, for when the person is gone. */
    personName: text('person_name'),
    token: text('token'),
    /** The name of the rule that asked, where no person did, and the turn of its signal that it asked in. */
    rule: text('rule'),
    turn: integer('turn'),
    why: text('why').notNull(),
  },
  (table) => [
    index('command_open').on(table.signalId).where(sql`state in ('requested', 'sent')`),
    uniqueIndex('command_turn').on(table.signalId, table.turn),
    index('command_signal').on(table.signalId, table.requestedAt),
    index('command_requested').on(table.requestedAt),
  ],
)
