import { fieldLabel } from '@jaunty-sparrow/core/message'
import { hasParts, partIn } from '@jaunty-sparrow/core/signal'
import { and, eq, ne } from 'drizzle-orm'
import { ProblemError } from '../http/problemResponse.ts'
import type { Move } from '../readings/readingChanges.ts'
import type { Database } from '../store/database.ts'
import { signal, signalDefinition } from '../store/schema.ts'

type Transaction = Parameters<Parameters<Database['transaction']>[0]>[0]
type Definition = typeof signalDefinition.$inferSelect

/**
 * Reads a signal from another field from now on, or from that of each of several like parts. Where a suggested or ignored
 * signal stood for such a field, it gives way, and what was stored under it becomes the signal's own, so that a mistyped name
 * costs nothing.
 * @returns which readings are to be moved
 * @throws ProblemError when such a signal holds another kind of value
 */
export async function remapField(tx: Transaction, own: Definition, field: string): Promise<Move[]> {
  const others = await tx
    .select()
    .from(signalDefinition)
    .where(and(eq(signalDefinition.kitId, own.kitId), ne(signalDefinition.id, own.id)))
  const giving = others.flatMap((other) => {
    if (other.state === 'accepted') return []
    if (other.field === field) return { other, part: '' }
    const part = hasParts(field) ? partIn(field, other.field) : undefined
    return part === undefined ? [] : { other, part }
  })
  for (const { other } of giving) {
    if (other.kind === own.kind) continue
    throw new ProblemError(
      'conflict',
      `The field "${fieldLabel(other.field)}" holds a ${other.kind}, but "${own.name}" is a ${own.kind}.`,
    )
  }
  await keepOwn(tx, own, field)
  await tx.update(signalDefinition).set({ field }).where(eq(signalDefinition.id, own.id))
  const moves: Move[] = []
  for (const { other, part } of giving) moves.push(...(await giveWay(tx, other, own, part)))
  return moves
}

/** The signals a definition has already become, or cease to be, those of one part. */
async function keepOwn(tx: Transaction, own: Definition, field: string): Promise<void> {
  if (hasParts(own.field) && !hasParts(field))
    throw new ProblemError(
      'conflict',
      'It stands for like parts: their field can change, but not to that of one thing.',
    )
  if (!hasParts(field) || hasParts(own.field)) return
  const part = partIn(field, own.field)
  if (part === undefined)
    throw new ProblemError(
      'conflict',
      `"${fieldLabel(own.field)}" is none of the parts that this field stands for.`,
    )
  await tx.update(signal).set({ part }).where(eq(signal.definitionId, own.id))
}

/** Lets one definition give way to another, device by device. */
async function giveWay(tx: Transaction, from: Definition, to: Definition, part: string): Promise<Move[]> {
  const theirs = await tx.select().from(signal).where(eq(signal.definitionId, from.id))
  const moves: Move[] = []
  for (const { id, deviceId } of theirs) {
    await tx.insert(signal).values({ deviceId, definitionId: to.id, part }).onConflictDoNothing()
    const [mine] = await tx
      .select({ id: signal.id })
      .from(signal)
      .where(and(eq(signal.deviceId, deviceId), eq(signal.definitionId, to.id), eq(signal.part, part)))
    if (mine) moves.push({ from: id, to: mine.id })
  }
  await tx.delete(signalDefinition).where(eq(signalDefinition.id, from.id))
  return moves
}
