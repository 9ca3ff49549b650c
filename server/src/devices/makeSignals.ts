import type { UnknownField } from '@jaunty-sparrow/core/interpret'
import { fieldOfDerivedParts, mostParts, signalName } from '@jaunty-sparrow/core/signal'
import { and, eq, sql } from 'drizzle-orm'
import countBy from 'lodash-es/countBy.js'
import { linkDerived } from '../derived/linkDerived.ts'
import type { Database } from '../store/database.ts'
import { device, signal, signalDefinition } from '../store/schema.ts'
import type { RegisteredDevice } from './registeredDevice.ts'

type Transaction = Parameters<typeof linkDerived>[0]

/** A board that makes up field names must not fill the database with signals nobody asked for. */
const mostSuggestions = 40

/**
 * Makes suggested signals of fields that nobody has described, as far as the limit allows, and signals of parts that nobody has
 * heard of.
 * @returns whether anything had to be made
 */
export async function suggestSignals(
  database: Database,
  { id, kitId, signals }: RegisteredDevice,
  fields: readonly UnknownField[],
): Promise<boolean> {
  const parts = fields.filter(({ pointer, part }) => part && signals.of(pointer).length === 0)
  const waiting = [...signals].filter(({ definition }) => definition.state === 'suggested').length
  const fresh = fields
    .filter(({ pointer, part }) => !part && signals.of(pointer).length === 0)
    .slice(0, Math.max(0, mostSuggestions - waiting))
  const mistaken = fields.filter(({ insteadOf }) => insteadOf !== undefined)
  if (fresh.length === 0 && parts.length === 0 && mistaken.length === 0) return false
  await database.transaction(async (tx) => {
    for (const { insteadOf = 0, kind } of mistaken)
      await tx
        .update(signalDefinition)
        .set({ kind })
        .where(and(eq(signalDefinition.id, insteadOf), eq(signalDefinition.state, 'suggested')))
    // Asked for first: an insert that finds its row there already has used up a number nevertheless.
    const there = await tx
      .select({ field: signalDefinition.field })
      .from(signalDefinition)
      .where(eq(signalDefinition.kitId, kitId))
    const known = new Set(there.map(({ field }) => field))
    const missing = fresh.filter(({ pointer }) => !known.has(pointer))
    if (missing.length > 0) {
      await tx
        .insert(signalDefinition)
        .values(
          missing.map(({ pointer, kind, unit }) => ({
            kitId,
            field: pointer,
            name: signalName(pointer),
            kind,
            settings: unit === null ? {} : { unit },
            state: 'suggested' as const,
          })),
        )
        .onConflictDoNothing()
    }
    if (parts.length > 0) await makeParts(tx, id, parts)
    if (fresh.length > 0 || parts.length > 0) await makeSignals(tx, kitId)
  })
  return true
}

/** Gives a device signals for parts that it spoke of. */
async function makeParts(
  tx: Pick<Database, 'select' | 'insert'>,
  deviceId: number,
  parts: readonly UnknownField[],
): Promise<void> {
  const there = await tx
    .select({ definitionId: signal.definitionId, part: signal.part })
    .from(signal)
    .where(eq(signal.deviceId, deviceId))
  const counts = countBy(there, ({ definitionId }) => definitionId)
  const known = new Set(there.map(({ definitionId, part }) => `${definitionId} ${part}`))
  const missing = parts.flatMap(({ part }) => {
    if (!part || known.has(`${part.definition} ${part.name}`)) return []
    const count = (counts[part.definition] ?? 0) + 1
    if (count > mostParts) return []
    counts[part.definition] = count
    return { deviceId, definitionId: part.definition, part: part.name }
  })
  if (missing.length > 0) await tx.insert(signal).values(missing).onConflictDoNothing()
}

/**
 * Gives every device of a kit its own signal for every definition of the kit; those of like parts appear by themselves. What is
 * derived is linked to what it follows from.
 */
export async function makeSignals(database: Transaction, kitId: number): Promise<void> {
  await database.execute(sql`
    insert into ${signal} (device_id, definition_id)
    select ${device.id}, ${signalDefinition.id} from ${device} join ${signalDefinition} using (kit_id)
    where ${device.kitId} = ${kitId} and ${signalDefinition.field} !~ '/\\{part\\}(/|$)' and not exists (
      select from ${signal} there where there.device_id = ${device.id} and there.definition_id = ${signalDefinition.id})
    on conflict do nothing`)
  await makeDerivedOfParts(database, kitId)
  await linkDerived(database, [kitId])
}

/** What follows from like parts is there for each of them; what follows from that too. */
async function makeDerivedOfParts(tx: Pick<Database, 'execute'>, kitId: number): Promise<void> {
  const { rowCount } = await tx.execute(sql`
    insert into ${signal} (device_id, definition_id, part)
    select distinct input.device_id, following.id, input.part
    from ${signalDefinition} following
      cross join jsonb_array_elements(following.settings -> 'derivation' -> 'inputs') as given
      join ${signal} input on input.definition_id = (given -> 'of' ->> 'definition')::int and input.part <> ''
    where following.kit_id = ${kitId} and following.field = ${fieldOfDerivedParts} and not exists (
      select from ${signal} there
      where there.device_id = input.device_id and there.definition_id = following.id and there.part = input.part)
    on conflict do nothing`)
  if (rowCount) await makeDerivedOfParts(tx, kitId)
}
