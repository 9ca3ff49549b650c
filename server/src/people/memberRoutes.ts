import { type Member, routes } from '@jaunty-sparrow/contract'
import { granted, joined, mayEverywhere, maySomewhere, noAccess, seenBy } from '@jaunty-sparrow/core/access'
import { asc, eq, max, sql } from 'drizzle-orm'
import { notAllowed } from '../http/binder.ts'
import { ProblemError } from '../http/problemResponse.ts'
import { breaksReference } from '../store/databaseError.ts'
import { membership, person, session } from '../store/schema.ts'
import { readAccess, writeAccess } from './access.ts'
import { changingRoles } from './changingRoles.ts'
import { type PeopleParts, signInLinkFor } from './routes.ts'

/** Who may do what, as owners see and change it. */
export function bindMembers({ binder, database, sessions, events, accessChanged, now }: PeopleParts): void {
  binder.bind(routes.listPeople, async ({ caller }): Promise<Member[]> => {
    const rows = await database
      .select({ id: person.id, name: person.name, createdAt: person.createdAt, seenAt: max(session.usedAt) })
      .from(person)
      .leftJoin(session, eq(session.personId, person.id))
      .groupBy(person.id)
      .orderBy(asc(sql`lower(${person.name})`))
    const access = await readAccess(database)
    return rows.flatMap(({ createdAt, seenAt, ...row }) => {
      const seen = seenBy(caller.access, access.get(row.id) ?? noAccess)
      // Who has no role at any of the caller's sites is of no concern there.
      if (!mayEverywhere(caller.access, 'owner') && !maySomewhere(seen, 'viewer')) return []
      return [{ ...row, access: seen, createdAt: createdAt.getTime(), seenAt: seenAt?.getTime() ?? null }]
    })
  })

  binder.bind(routes.changeAccess, async ({ caller, params: { personId }, body }) => {
    const { name, before, after } = await changingRoles(database, async (tx) => {
      const [found] = await tx.select().from(person).where(eq(person.id, personId)).for('update')
      const before = (await readAccess(tx, [personId])).get(personId) ?? noAccess
      const isKnown =
        mayEverywhere(caller.access, 'owner') || maySomewhere(seenBy(caller.access, before), 'viewer')
      if (!found || !isKnown) throw noPerson()
      // One role a site, also where a site was named twice.
      const after = granted(caller.access, before, joined(noAccess, body))
      if (!after) throw notAllowed(caller, 'owner', ' at each site that this changes')
      await writeAccess(tx, personId, after)
      return { name: found.name, before, after }
    }).catch((error: unknown) => {
      throw breaksReference(error)
        ? new ProblemError('not-found', 'A site that was named does not exist.')
        : error
    })
    accessChanged()
    const says = `What ${name} may do was changed.`
    await events.write({
      kind: 'person',
      at: now(),
      caller,
      says,
      change: { before: { ...before }, after: { ...after } },
    })
  })

  binder.bind(routes.removePerson, async ({ caller, params: { personId } }) => {
    const name = await changingRoles(database, async (tx) => {
      const [found] = await tx.select().from(person).where(eq(person.id, personId))
      if (!found) throw noPerson()
      await tx.delete(membership).where(eq(membership.personId, personId))
      return found.name
    })
    await sessions.remove(personId)
    accessChanged()
    await events.write({ kind: 'person', at: now(), caller, says: `${name} was removed.` })
  })

  binder.bind(routes.createSignInLinkFor, async ({ caller, params: { personId } }) => {
    const [found] = await database.select().from(person).where(eq(person.id, personId))
    if (!found) throw noPerson()
    const link = await signInLinkFor(database, personId, now())
    await events.write({
      kind: 'person',
      at: now(),
      caller,
      says: `A sign-in link was made for ${found.name}.`,
    })
    return link
  })
}

const noPerson = (): ProblemError => new ProblemError('not-found', 'There is no such person.')
