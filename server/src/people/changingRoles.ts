import { and, eq, isNull, sql } from 'drizzle-orm'
import { ProblemError } from '../http/problemResponse.ts'
import type { Database } from '../store/database.ts'
import { membership } from '../store/schema.ts'

type Transaction = Parameters<Parameters<Database['transaction']>[0]>[0]

/**
 * Changes what people may, in one transaction, and sees to it that somebody is left who owns all sites. Whoever reads roles to
 * write them back does it in here: else a role that is taken away meanwhile would come back.
 * @throws ProblemError when it was the last one
 */
export function changingRoles<T>(database: Database, work: (tx: Transaction) => Promise<T>): Promise<T> {
  return database.transaction(async (tx) => {
    // One after the other, so that two who leave at once do not each count on the other.
    await tx.execute(sql`lock table ${membership} in share row exclusive mode`)
    const result = await work(tx)
    const owners = await tx
      .select({ personId: membership.personId })
      .from(membership)
      .where(and(isNull(membership.siteId), eq(membership.role, 'owner')))
    if (owners.length === 0)
      throw new ProblemError(
        'conflict',
        'Nobody would be left who owns all sites; make somebody else an owner first.',
      )
    return result
  })
}
