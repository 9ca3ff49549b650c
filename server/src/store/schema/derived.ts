import type { FoundDerivation } from '@jaunty-sparrow/core/derived'
import { sql } from 'drizzle-orm'
import {
  bigint,
  boolean,
  doublePrecision,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
} from 'drizzle-orm/pg-core'
import { instant } from './columns.ts'
import { signal } from './described.ts'

/** How each derived signal follows from others, with all that holds for it now. */
export const derived = pgTable('derived', {
  signalId: integer('signal_id')
    .primaryKey()
    .references(() => signal.id, { onDelete: 'cascade' }),
  found: jsonb('found').$type<FoundDerivation>().notNull(),
})

/** Which signals a derived one follows from. Where one is deleted, what followed from it stays as it was. */
export const derivedInput = pgTable(
  'derived_input',
  {
    signalId: integer('signal_id')
      .notNull()
      .references(() => derived.signalId, { onDelete: 'cascade' }),
    inputId: integer('input_id')
      .notNull()
      .references(() => signal.id, { onDelete: 'cascade' }),
    /** For so long after a reading of it something may follow from it, s. */
    reach: doublePrecision('reach').notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.signalId, table.inputId] }),
    index('derived_input_input').on(table.inputId),
  ],
)

/** Spans in which a derived signal has to be worked out again. */
export const dueDerived = pgTable(
  'due_derived',
  {
    id: bigint('id', { mode: 'number' }).primaryKey().generatedAlwaysAsIdentity(),
    signalId: integer('signal_id')
      .notNull()
      .references(() => signal.id, { onDelete: 'cascade' }),
    /** Epoch ms, both ends included. */
    fromAt: doublePrecision('from_at').notNull(),
    toAt: doublePrecision('to_at').notNull(),
    /** Whether something of the past was changed, and nothing came in. */
    isPast: boolean('is_past').notNull(),
    /** What looks back far costs more, and is worked out less often. */
    notBefore: instant('not_before').notNull().default(sql`now()`),
  },
  (table) => [index('due_derived_not_before').on(table.notBefore)],
)
