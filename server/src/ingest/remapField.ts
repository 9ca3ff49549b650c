import { fieldLabel } from '@jaunty-sparrow/core'
import { and, eq, inArray, ne, sql } from 'drizzle-orm'
import { ProblemError } from '../doors/problemResponse.ts'
import type { Database } from '../store/database.ts'
import { reading, signal, signalDefinition } from '../store/schema.ts'

type Transaction = Parameters<Parameters<Database['transaction']>[0]>[0]

/**
 * Reads a signal from another field from now on. Where a suggested or ignored signal stood for that field, it gives way, and
 * what was stored under it becomes the signal's own, so that a mistyped name costs nothing.
 * @throws ProblemError when the field belongs to an accepted signal, or holds another kind of value
 */
export async function remapField(tx: Transaction, definitionId: number, field: string): Promise<void> {
  const [own] = await tx.select().from(signalDefinition).where(eq(signalDefinition.id, definitionId))
  if (!own) throw new ProblemError('not-found', 'There is no such signal.')
  const ofField = and(eq(signalDefinition.kitId, own.kitId), eq(signalDefinition.field, field))
  const [other] = await tx
    .select()
    .from(signalDefinition)
    .where(and(ofField, ne(signalDefinition.id, own.id)))
  if (other) {
    if (other.state === 'accepted') {
      throw new ProblemError(
        'conflict',
        `The signal "${other.name}" is read from the field "${fieldLabel(field)}" already.`,
      )
    }
    if (other.kind !== own.kind) {
      throw new ProblemError(
        'conflict',
        `The field "${fieldLabel(field)}" holds a ${other.kind}, but "${own.name}" is a ${own.kind}.`,
      )
    }
    await giveWay(tx, other.id, own.id)
  }
  await tx.update(signalDefinition).set({ field }).where(eq(signalDefinition.id, own.id))
}

/** Moves the readings of one definition's signals to another's, device by device; where both have one, the other's stays. */
async function giveWay(tx: Transaction, from: number, to: number): Promise<void> {
  await tx.execute(sql`
    insert into reading (signal_id, quality, at, received_at, value)
    select mine.id, moved.quality, moved.at, moved.received_at, moved.value
    from reading moved
      join signal theirs on theirs.id = moved.signal_id and theirs.definition_id = ${from}
      join signal mine on mine.device_id = theirs.device_id and mine.definition_id = ${to}
    on conflict do nothing`)
  const theirs = tx.select({ id: signal.id }).from(signal).where(eq(signal.definitionId, from))
  await tx.delete(reading).where(inArray(reading.signalId, theirs))
  await tx.delete(signalDefinition).where(eq(signalDefinition.id, from))
}
