import { routes, type Session } from '@jaunty-sparrow/contract'
import { and, eq, gt, sql } from 'drizzle-orm'
import type { Request, Response } from 'express'
import { ProblemError } from '../doors/problemResponse.ts'
import { hasOwner } from '../people/hasOwner.ts'
import { isOnThisMachine } from '../people/onThisMachine.ts'
import { hashPassword, matchesPassword } from '../people/password.ts'
import { type FoundSession, type SessionKeeper, sessionCookie } from '../people/sessionKeeper.ts'
import { hashToken, matchesHash, newToken } from '../people/token.ts'
import type { Database } from '../store/database.ts'
import { person, signInLink } from '../store/schema.ts'
import type { Binder } from './binder.ts'

const linkLength = 86_400_000
/** The browser forgets the cookie after a year; the server ends an unused session long before. */
const cookieLength = 365 * 86_400_000

interface PeopleParts {
  readonly binder: Binder
  readonly database: Database
  readonly sessions: SessionKeeper
  readonly now: () => number
  /** What lets someone on another machine become the owner. */
  readonly firstRunToken: string
}

/** First run, signing in and out, and one-time links. */
export function bindPeople({ binder, database, sessions, now, firstRunToken }: PeopleParts): void {
  const enter = async (
    someone: FoundSession['person'],
    request: Request,
    response: Response,
  ): Promise<Session> => {
    const { token, csrfToken } = await sessions.start(someone.id)
    response.cookie(sessionCookie, token, { ...cookieOptions(request), maxAge: cookieLength })
    return { state: 'signed-in', person: someone, csrfToken }
  }

  binder.bind(routes.getSession, async ({ session, request }): Promise<Session> => {
    if (session) return { state: 'signed-in', person: session.person, csrfToken: session.csrfToken }
    return (await hasOwner(database))
      ? { state: 'signed-out' }
      : { state: 'first-run', byLink: !isOnThisMachine(request) }
  })

  const firstRunHash = hashToken(firstRunToken)
  binder.bind(routes.createOwner, async ({ body, request, response }) => {
    if (!isOnThisMachine(request) && !matchesHash(body.token ?? '', firstRunHash)) {
      throw new ProblemError(
        'not-allowed',
        'From another machine the owner is created by the link that the server printed when it was started last.',
      )
    }
    const owner = await database.transaction(async (tx) => {
      // Two first visits at once: the second one waits here, and then finds somebody.
      await tx.execute(sql`lock table ${person} in exclusive mode`)
      if (await hasOwner(tx))
        throw new ProblemError('conflict', 'There is an owner already; sign in instead.')
      const passwordHash = await hashPassword(body.password)
      const [made] = await tx
        .insert(person)
        .values({ name: body.name.trim(), passwordHash, role: 'owner' })
        .returning()
      return made
    })
    if (!owner) throw new Error('the owner was not returned by the insert')
    return enter({ id: owner.id, name: owner.name, role: owner.role }, request, response)
  })

  binder.bind(routes.signIn, async ({ body, request, response }) => {
    const [found] = await database.select().from(person).where(eq(person.name, body.name.trim()))
    if (!(await matchesPassword(body.password, found?.passwordHash)) || !found) {
      throw new ProblemError('wrong-password', 'Name and password do not match.')
    }
    return enter({ id: found.id, name: found.name, role: found.role }, request, response)
  })

  binder.bind(routes.signInByLink, async ({ body, request, response }) => {
    const [spent] = await database
      .delete(signInLink)
      .where(and(eq(signInLink.tokenHash, hashToken(body.token)), gt(signInLink.expiresAt, new Date(now()))))
      .returning()
    const [found] = spent ? await database.select().from(person).where(eq(person.id, spent.personId)) : []
    if (!found)
      throw new ProblemError(
        'link-spent',
        'A sign-in link works once and for a day. Ask for a new one, or sign in with name and password.',
      )
    return enter({ id: found.id, name: found.name, role: found.role }, request, response)
  })

  binder.bind(routes.signOut, async ({ session, request, response }) => {
    await sessions.end(session.tokenHash)
    response.clearCookie(sessionCookie, cookieOptions(request))
  })

  binder.bind(routes.createSignInLink, async ({ session }) => {
    const token = newToken()
    const expiresAt = now() + linkLength
    await database
      .insert(signInLink)
      .values({ tokenHash: hashToken(token), personId: session.person.id, expiresAt: new Date(expiresAt) })
    return { token, expiresAt }
  })
}

const cookieOptions = (request: Request) =>
  ({ httpOnly: true, sameSite: 'lax', secure: request.secure, path: '/' }) as const
