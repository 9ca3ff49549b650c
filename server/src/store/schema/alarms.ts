import type { Standing, WatchState } from '@jaunty-sparrow/core/alarm'
import type { RuleState } from '@jaunty-sparrow/core/rule'
import { sql } from 'drizzle-orm'
import {
  bigint,
  boolean,
  doublePrecision,
  index,
  integer,
  jsonb,
  pgTable,
  text,
  uniqueIndex,
} from 'drizzle-orm/pg-core'
import { id, instant } from './columns.ts'
import { device, signal } from './described.ts'
import { person } from './people.ts'

/** How far an alarm has come in watching. */
export interface AlarmWatchState {
  readonly level?: WatchState
  readonly formula?: RuleState
  readonly unless?: RuleState
}

/** Who saw an alarm, when (epoch ms), and what they said. */
export interface Acknowledged {
  readonly at: number
  readonly person: string
  readonly word: string
}

/** How each alarm stands; what it is stands with its signal. */
export const alarm = pgTable(
  'alarm',
  {
    /** Of what it is, and its key. */
    id: text('id').primaryKey(),
    signalId: integer('signal_id').references(() => signal.id, { onDelete: 'cascade' }),
    deviceId: integer('device_id').references(() => device.id, { onDelete: 'cascade' }),
    /** By what it is watched: where that is another one, it is watched anew. */
    judgedBy: text('judged_by').notNull(),
    standing: jsonb('standing').$type<Standing>().notNull(),
    watch: jsonb('watch').$type<AlarmWatchState>().notNull(),
    isNormal: boolean('is_normal').notNull(),
    raisedAt: instant('raised_at'),
    returnedAt: instant('returned_at'),
    changedAt: instant('changed_at'),
    value: doublePrecision('value'),
    worst: doublePrecision('worst'),
    limit: doublePrecision('limit'),
    acknowledged: jsonb('acknowledged').$type<Acknowledged>(),
  },
  (table) => [index('alarm_signal').on(table.signalId), index('alarm_not_normal').on(table.isNormal)],
)

/** What happened to alarms. */
export const alarmAct = pgTable(
  'alarm_act',
  {
    id: id(),
    alarmId: text('alarm_id').notNull(),
    at: instant('at').notNull(),
    move: text('move').notNull(),
    state: text('state').notNull(),
    value: doublePrecision('value'),
    personId: integer('person_id').references(() => person.id, { onDelete: 'set null' }),
    personName: text('person_name'),
    word: text('word').notNull().default(''),
    until: instant('until'),
  },
  (table) => [
    index('alarm_act_alarm').on(table.alarmId, table.id),
    index('alarm_act_at').on(table.at),
    // What is learned late is learned piece by piece.
    uniqueIndex('alarm_act_late').on(table.alarmId, table.at).where(sql`move = 'late'`),
  ],
)

/** Counts what was written of alarms: whose count it is not knows that another server wrote in between. */
export const alarmTurn = pgTable('alarm_turn', {
  id: integer('id').primaryKey(),
  turn: bigint('turn', { mode: 'number' }).notNull(),
  /** When alarms were looked at last. */
  lookedAt: instant('looked_at').notNull(),
})
