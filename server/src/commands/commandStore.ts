import type { Command } from '@jaunty-sparrow/contract'
import { after, type CommandLife, type Happening, isOpen } from '@jaunty-sparrow/core/command'
import { and, desc, eq, gte, inArray, isNotNull, isNull, lt, lte, type SQL, sql } from 'drizzle-orm'
import type { Database } from '../store/database.ts'
import { command } from '../store/schema.ts'

type Row = typeof command.$inferSelect
export type CommandTable = Pick<Database, 'select' | 'update' | 'insert'>

const ms = (at: Date | null): number | null => at?.getTime() ?? null

/** A command as it is told. */
export const told = ({
  personId: _,
  turn: __,
  personName,
  requestedAt,
  until,
  sentAt,
  settledAt,
  ...row
}: Row): Command => ({
  ...row,
  person: personName,
  requestedAt: requestedAt.getTime(),
  until: until.getTime(),
  sentAt: ms(sentAt),
  settledAt: ms(settledAt),
})

const openStates = ['requested', 'sent'] as const

const open = (database: CommandTable, which: readonly SQL[]) =>
  database
    .select()
    .from(command)
    .where(and(inArray(command.state, [...openStates]), ...which))
    .orderBy(command.id)

/** Those that have not ended, and fit. */
export const openCommands = async (database: CommandTable, ...which: SQL[]): Promise<Row[]> =>
  open(database, which)

/** The same, held until the transaction ends: nobody sends one meanwhile. */
export const lockOpenCommands = async (database: CommandTable, ...which: SQL[]): Promise<Row[]> =>
  open(database, which).for('update')

/**
 * Writes down what happened to commands, each where it is still as it was read: of two who saw something happen one is the first.
 * @returns those that are otherwise now
 */
export async function happened(
  database: CommandTable,
  rows: readonly Row[],
  happenings: (row: Row) => readonly Happening[],
  now: number,
  stepOf: (signal: number) => number | null = () => null,
): Promise<Command[]> {
  const changed: Command[] = []
  for (const row of rows) {
    const before: CommandLife = {
      state: row.state,
      value: row.value,
      until: row.until.getTime(),
      sentAt: ms(row.sentAt),
      reported: row.reported,
      answer: row.answer,
    }
    const life = happenings(row).reduce((each, one) => after(each, one, stepOf(row.signalId)), before)
    if (life === before) continue
    const { state, sentAt, reported, answer } = life
    const [written] = await database
      .update(command)
      .set({
        state,
        reported,
        answer,
        sentAt: sentAt === null ? null : new Date(sentAt),
        settledAt: isOpen(state) ? null : new Date(now),
      })
      .where(and(eq(command.id, row.id), eq(command.state, row.state)))
      .returning()
    if (written) changed.push(told(written))
  }
  return changed
}

/** How often a signal was told something since an instant. @param since epoch ms */
export async function sentSince(database: CommandTable, signalId: number, since: number): Promise<number> {
  const [row] = await database
    .select({ count: sql<number>`count(*)::int` })
    .from(command)
    .where(and(eq(command.signalId, signalId), gte(command.sentAt, new Date(since))))
  return row?.count ?? 0
}

/** The last that each of some signals confirmed. */
export async function lastConfirmed(database: Database, signals: readonly number[]): Promise<Command[]> {
  if (signals.length === 0) return []
  const rows = await database
    .selectDistinctOn([command.signalId])
    .from(command)
    .where(and(inArray(command.signalId, [...signals]), eq(command.state, 'confirmed')))
    .orderBy(command.signalId, desc(command.id))
  return rows.map(told)
}

export interface CommandFilter {
  readonly open?: boolean | undefined
  readonly from?: number | undefined
  readonly to?: number | undefined
  readonly deviceId?: number | undefined
  readonly signalId?: number | undefined
  readonly state?: Command['state'] | undefined
  readonly person?: string | undefined
  readonly byRules?: boolean | undefined
  readonly before?: number | undefined
}

const mostListed = 500

/** What was commanded, the newest first. @param devices whose commands may be seen */
export async function listed(
  database: CommandTable,
  { open: isOpenOnly, from, to, deviceId, signalId, state, person, byRules, before }: CommandFilter,
  devices: readonly number[],
): Promise<Command[]> {
  if (devices.length === 0) return []
  const rows = await database
    .select()
    .from(command)
    .where(
      and(
        inArray(command.deviceId, [...devices]),
        isOpenOnly ? inArray(command.state, [...openStates]) : undefined,
        from === undefined ? undefined : gte(command.requestedAt, new Date(from)),
        to === undefined ? undefined : lte(command.requestedAt, new Date(to)),
        deviceId === undefined ? undefined : eq(command.deviceId, deviceId),
        signalId === undefined ? undefined : eq(command.signalId, signalId),
        state === undefined ? undefined : eq(command.state, state),
        person === undefined ? undefined : eq(command.personName, person),
        byRules === undefined ? undefined : byRules ? isNotNull(command.rule) : isNull(command.rule),
        before === undefined ? undefined : lt(command.id, before),
      ),
    )
    .orderBy(desc(command.id))
    .limit(mostListed)
  return rows.map(told)
}
