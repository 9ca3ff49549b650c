import type { Access } from '@jaunty-sparrow/core/access'
import { inArray, sql } from 'drizzle-orm'
import type { Database } from '../store/database.ts'
import { membership } from '../store/schema.ts'

type Asked = Pick<Database, 'select'>

/** What people may do, by their numbers; who is not there may do nothing. */
export async function readAccess(database: Asked, people?: readonly number[]): Promise<Map<number, Access>> {
  const rows = await database
    .select()
    .from(membership)
    .where(people && inArray(membership.personId, [...people]))
    .orderBy(membership.personId, sql`${membership.siteId} nulls first`)
  const found = new Map<number, Access>()
  for (const { personId, siteId, role } of rows) {
    const { everywhere, sites } = found.get(personId) ?? { everywhere: null, sites: [] }
    found.set(
      personId,
      siteId === null ? { everywhere: role, sites } : { everywhere, sites: [...sites, { siteId, role }] },
    )
  }
  return found
}

/** Puts what a person may do in the place of what they might. */
export async function writeAccess(
  database: Pick<Database, 'delete' | 'insert'>,
  personId: number,
  { everywhere, sites }: Access,
): Promise<void> {
  await database.delete(membership).where(sql`${membership.personId} = ${personId}`)
  const rows = [
    ...(everywhere ? [{ personId, siteId: null, role: everywhere }] : []),
    ...sites.map(({ siteId, role }) => ({ personId, siteId, role })),
  ]
  if (rows.length > 0) await database.insert(membership).values(rows)
}
