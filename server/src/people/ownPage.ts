import { routes } from '@jaunty-sparrow/contract'
import { and, eq } from 'drizzle-orm'
import { ProblemError } from '../http/problemResponse.ts'
import { isTaken } from '../store/databaseError.ts'
import { membership, person } from '../store/schema.ts'
import { checkUnitChoices } from '../units/unitChoices.ts'
import { changingRoles } from './changingRoles.ts'
import { hashPassword, matchesPassword } from './password.ts'
import { nameTaken, type PeopleParts } from './routes.ts'

/** What people do about themselves: their name, what they prefer, their password, where they are signed in, and leaving. */
export function bindOwnPage({ binder, database, sessions, events, accessChanged, now }: PeopleParts): void {
  binder.bind(routes.changePreferences, async ({ caller, body: { name, ...chosen } }) => {
    checkUnitChoices(chosen.units)
    const called = name?.trim() ?? caller.person.name
    await database
      .update(person)
      .set({ name: called, preferences: { ...caller.preferences, ...chosen } })
      .where(eq(person.id, caller.person.id))
      .catch((error: unknown) => {
        throw isTaken(error) ? nameTaken(called) : error
      })
    if (called === caller.person.name) return
    const change = { before: { name: caller.person.name }, after: { name: called } }
    await events.write({ kind: 'person', at: now(), caller, says: `Is called ${called} now.`, change })
  })

  binder.bind(routes.changePassword, async ({ caller, body: { current, password } }) => {
    if (!caller.byLink) {
      const [found] = await database.select().from(person).where(eq(person.id, caller.person.id))
      if (!(await matchesPassword(current ?? '', found?.passwordHash)))
        throw new ProblemError('not-allowed', 'The current password is another one.')
    }
    const passwordHash = await hashPassword(password)
    await database.update(person).set({ passwordHash }).where(eq(person.id, caller.person.id))
    await sessions.endOthers(caller.person.id, caller.id)
    await sessions.knowsPassword(caller.id)
    await events.write({ kind: 'person', at: now(), caller, says: 'Took a new password.' })
  })

  binder.bind(routes.listSessions, async ({ caller }) => {
    const rows = await sessions.list(caller.person.id)
    return rows.map(({ id, browser, createdAt, usedAt }) => ({
      id,
      browser,
      createdAt: createdAt.getTime(),
      usedAt: usedAt.getTime(),
      isThis: id === caller.id,
    }))
  })

  binder.bind(routes.endSession, async ({ caller, params }) => {
    if (!(await sessions.end(caller.person.id, params.sessionId)))
      throw new ProblemError('not-found', 'This session has ended already.')
  })

  binder.bind(routes.leave, async ({ caller }) => {
    await changingRoles(database, (tx) =>
      tx.delete(membership).where(eq(membership.personId, caller.person.id)),
    )
    await events.write({ kind: 'person', at: now(), caller, says: `${caller.person.name} left.` })
    await sessions.remove(caller.person.id)
    accessChanged()
  })

  binder.bind(routes.leaveSite, async ({ caller, params: { siteId } }) => {
    const own = and(eq(membership.personId, caller.person.id), eq(membership.siteId, siteId))
    const given = await database.delete(membership).where(own).returning()
    if (given.length === 0)
      throw new ProblemError('not-found', 'You have no role at that site that is yours there alone.')
    accessChanged()
    await events.write({ kind: 'person', at: now(), caller, siteId, says: 'Gave up the role at this site.' })
  })
}
