import { type Invitation, routes } from '@jaunty-sparrow/contract'
import { type Access, joined, lent, mayAt, mayEverywhere, noAccess } from '@jaunty-sparrow/core/access'
import { and, asc, eq, gt, inArray, lt } from 'drizzle-orm'
import { notAllowed } from '../http/binder.ts'
import { ProblemError } from '../http/problemResponse.ts'
import { hashToken, newToken } from '../secrets/token.ts'
import type { Database } from '../store/database.ts'
import { isTaken } from '../store/databaseError.ts'
import { invitation, person, site } from '../store/schema.ts'
import { readAccess, writeAccess } from './access.ts'
import { changingRoles } from './changingRoles.ts'
import { hashPassword } from './password.ts'
import { entering, nameTaken, type PeopleParts, tellSession } from './routes.ts'

const invitationLength = 7 * 86_400_000

/** Letting somebody in by a link that works once. */
export function bindInvitations(parts: PeopleParts): void {
  const { binder, database, sessions, events, accessChanged, now } = parts
  const enter = entering(sessions)
  /** Whether it is for this owner to give, and to take back. */
  const isOwn = (access: Access, siteIds: readonly number[] | null): boolean =>
    siteIds === null
      ? mayEverywhere(access, 'owner')
      : siteIds.every((siteId) => mayAt(access, 'owner', siteId))

  binder.bind(routes.listInvitations, async ({ caller }): Promise<Invitation[]> => {
    const rows = await database
      .select({ row: invitation, by: person.name })
      .from(invitation)
      .leftJoin(person, eq(person.id, invitation.personId))
      .where(gt(invitation.expiresAt, new Date(now())))
      .orderBy(asc(invitation.id))
    return rows
      .filter(({ row }) => isOwn(caller.access, row.siteIds))
      .map(({ row: { id, role, siteIds, note, expiresAt }, by }) => ({
        id,
        role,
        siteIds,
        note,
        by,
        expiresAt: expiresAt.getTime(),
      }))
  })

  binder.bind(routes.createInvitation, async ({ caller, body: { role, siteIds, note = '' } }) => {
    if (!isOwn(caller.access, siteIds))
      throw notAllowed(caller, 'owner', siteIds === null ? ' at all sites' : ' at each of these sites')
    const token = newToken()
    const expiresAt = now() + invitationLength
    await database.delete(invitation).where(lt(invitation.expiresAt, new Date(now())))
    await database.insert(invitation).values({
      tokenHash: hashToken(token),
      role,
      siteIds,
      note,
      personId: caller.person.id,
      expiresAt: new Date(expiresAt),
    })
    const says = `${note || 'Somebody'} was invited as ${role}.`
    await events.write({
      kind: 'person',
      at: now(),
      caller,
      siteId: siteIds?.length === 1 ? siteIds[0] : null,
      says,
    })
    return { token, expiresAt }
  })

  binder.bind(routes.withdrawInvitation, async ({ caller, params: { invitationId } }) => {
    const [found] = await database.select().from(invitation).where(eq(invitation.id, invitationId))
    if (!found || !isOwn(caller.access, found.siteIds))
      throw new ProblemError('not-found', 'There is no such invitation, or it was taken already.')
    await database.delete(invitation).where(eq(invitation.id, invitationId))
    await events.write({
      kind: 'person',
      at: now(),
      caller,
      says: `The invitation of ${found.note || 'somebody'} was taken back.`,
    })
  })

  binder.bind(routes.readInvitation, async ({ body }) => {
    const [found] = await database
      .select({ row: invitation, by: person.name })
      .from(invitation)
      .leftJoin(person, eq(person.id, invitation.personId))
      .where(isGood(body.token))
    if (!found) throw spent()
    const { role, siteIds } = found.row
    const named =
      siteIds === null
        ? null
        : await database
            .select({ name: site.name })
            .from(site)
            .where(inArray(site.id, siteIds))
            .orderBy(asc(site.name))
    return { role, sites: named?.map(({ name }) => name) ?? null, by: found.by }
  })

  binder.bind(routes.acceptInvitation, async ({ caller, body, request, response }) => {
    const newcomer = body.person
    if (!newcomer && !caller)
      throw new ProblemError('not-signed-in', 'Choose a name and a password, or sign in first.')
    // Before anything that costs: strangers may ask this, as often as they like.
    const [offered] = await database.select({ id: invitation.id }).from(invitation).where(isGood(body.token))
    if (!offered) throw spent()
    const passwordHash = newcomer && (await hashPassword(newcomer.password))
    const { id, name, role } = await changingRoles(database, async (tx) => {
      const [taken] = await tx.delete(invitation).where(isGood(body.token)).returning()
      if (!taken) throw spent()
      // Whoever invited may have lost the role meanwhile.
      const inviter = (await readAccess(tx, [taken.personId])).get(taken.personId) ?? noAccess
      const given = isOwn(inviter, taken.siteIds) ? taken : undefined
      if (!given) throw spent()
      const who =
        newcomer && passwordHash ? await make(tx, newcomer.name.trim(), passwordHash) : caller?.person
      if (!who) throw spent()
      const before = (await readAccess(tx, [who.id])).get(who.id) ?? noAccess
      // Of sites that are gone meanwhile nothing can be given.
      const existing = given.siteIds && (await sitesOf(tx, given.siteIds))
      const all: Access = { everywhere: 'owner', sites: [] }
      const more = lent(all, given.role, existing)
      await writeAccess(tx, who.id, joined(before, more))
      return { ...who, role: given.role }
    })
    accessChanged()
    await events.write({
      kind: 'person',
      at: now(),
      caller: { person: { id, name }, token: null },
      says: `${name} took an invitation as ${role}.`,
    })
    if (caller && !newcomer)
      return tellSession({ ...caller, access: (await readAccess(database, [id])).get(id) ?? noAccess })
    return enter(id, request, response)
  })

  const isGood = (token: string) =>
    and(eq(invitation.tokenHash, hashToken(token)), gt(invitation.expiresAt, new Date(now())))

  const make = async (tx: Pick<typeof database, 'insert'>, name: string, passwordHash: string) => {
    const [made] = await tx
      .insert(person)
      .values({ name, passwordHash })
      .returning({ id: person.id, name: person.name })
      .catch((error: unknown) => {
        throw isTaken(error) ? nameTaken(name) : error
      })
    if (!made) throw new Error('the person was not returned by the insert')
    return made
  }
}

/** Those of the sites that are still there. */
async function sitesOf(database: Pick<Database, 'select'>, siteIds: readonly number[]): Promise<number[]> {
  const all = database.select({ id: site.id }).from(site)
  const rows = await all.where(inArray(site.id, [...siteIds]))
  return rows.map(({ id }) => id)
}

const spent = (): ProblemError =>
  new ProblemError(
    'link-spent',
    'An invitation works once and for seven days. Ask whoever invited you for a new one.',
  )
