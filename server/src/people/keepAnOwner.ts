import { and, eq, isNull } from 'drizzle-orm'
import { ProblemError } from '../http/problemResponse.ts'
import type { Database } from '../store/database.ts'
import { membership } from '../store/schema.ts'

/**
 * Sees to it that somebody is left who owns all sites: to be called within the transaction that takes roles away.
 * @throws ProblemError when it was the last one
 */
export async function keepAnOwner(transaction: Pick<Database, 'select'>): Promise<void> {
  // Locked, so that two who leave at once do not each count on the other.
  const owners = await transaction
    .select({ personId: membership.personId })
    .from(membership)
    .where(and(isNull(membership.siteId), eq(membership.role, 'owner')))
    .for('update')
  if (owners.length === 0)
    throw new ProblemError(
      'conflict',
      'Nobody would be left who owns all sites; make somebody else an owner first.',
    )
}
