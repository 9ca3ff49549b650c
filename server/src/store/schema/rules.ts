import type { RuleMode } from '@jaunty-sparrow/contract'
import type { Rule, RuleAct, RuleState } from '@jaunty-sparrow/core/rule'
import type { SignalValue } from '@jaunty-sparrow/core/signal'
import { boolean, index, integer, jsonb, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { id, instant } from './columns.ts'
import { signal } from './described.ts'

/** What commands by itself. */
export const rule = pgTable(
  'rule',
  {
    id: id(),
    /** What it asks. */
    signalId: integer('signal_id')
      .notNull()
      .references(() => signal.id, { onDelete: 'cascade' }),
    name: text('name').notNull(),
    /** Its place among the rules of the signal: the first that asks for something is obeyed. */
    place: integer('place').notNull(),
    mode: text('mode').$type<RuleMode>().notNull(),
    rule: jsonb('rule').$type<Rule>().notNull(),
  },
  (table) => [index('rule_signal').on(table.signalId)],
)

/** The signals that rules look at, for what is committed to find them. */
export const ruleInput = pgTable(
  'rule_input',
  {
    ruleId: integer('rule_id')
      .notNull()
      .references(() => rule.id, { onDelete: 'cascade' }),
    signalId: integer('signal_id')
      .notNull()
      .references(() => signal.id, { onDelete: 'cascade' }),
  },
  (table) => [
    primaryKey({ columns: [table.ruleId, table.signalId] }),
    index('rule_input_signal').on(table.signalId),
  ],
)

/** How far each rule that is not off has come; it is written in the transaction that says how far was looked. */
export const ruleState = pgTable('rule_state', {
  ruleId: integer('rule_id')
    .primaryKey()
    .references(() => rule.id, { onDelete: 'cascade' }),
  state: jsonb('state').$type<RuleState>().notNull(),
  /** When it has to be looked at though no input says anything. */
  nextAt: instant('next_at'),
})

/** What rules did, with what caused it. */
export const ruleAct = pgTable(
  'rule_act',
  {
    id: id(),
    ruleId: integer('rule_id')
      .notNull()
      .references(() => rule.id, { onDelete: 'cascade' }),
    at: instant('at').notNull(),
    kind: text('kind').$type<RuleAct['kind']>().notNull(),
    isActing: boolean('is_acting'),
    isTrial: boolean('is_trial').notNull(),
    because: jsonb('because').$type<RuleCause[]>().notNull(),
  },
  (table) => [index('rule_act_rule').on(table.ruleId, table.id), index('rule_act_at').on(table.at)],
)

/** A value that caused an act. */
export interface RuleCause {
  readonly signalId: number
  readonly name: string
  readonly value: number | null
  /** Epoch ms. */
  readonly at: number | null
}

/** What the rules of a signal come to, and whether it was asked for: what waits here goes out as a command. */
export const ruleHold = pgTable('rule_hold', {
  signalId: integer('signal_id')
    .primaryKey()
    .references(() => signal.id, { onDelete: 'cascade' }),
  ruleId: integer('rule_id').references(() => rule.id, { onDelete: 'set null' }),
  wish: jsonb('wish').$type<SignalValue>(),
  since: instant('since'),
  /** Counts what was asked for: of one turn there is one command, whoever ends when. */
  turn: integer('turn').notNull().default(0),
  askedTurn: integer('asked_turn').notNull().default(0),
  askedAt: instant('asked_at'),
  problem: text('problem').notNull().default(''),
  /** How long what a person asks for comes first, s. */
  handFor: integer('hand_for').notNull().default(3600),
  /** A hand before this one comes first no more. */
  resumedAt: instant('resumed_at'),
})

/** When rules were looked at last: between then and a start the server was away. */
export const ruleWatch = pgTable('rule_watch', {
  id: integer('id').primaryKey(),
  lookedAt: instant('looked_at').notNull(),
})
