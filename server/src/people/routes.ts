import { routes, type Session } from '@jaunty-sparrow/contract'
import { and, eq, gt, sql } from 'drizzle-orm'
import type { Request, Response } from 'express'
import type { EventStore } from '../events/eventStore.ts'
import type { Binder } from '../http/binder.ts'
import { ProblemError } from '../http/problemResponse.ts'
import { type FoundSession, sessionCookie } from '../http/session.ts'
import type { Database } from '../store/database.ts'
import { person, signInLink } from '../store/schema.ts'
import { type Attempt, Attempts } from './attempts.ts'
import { hasOwner } from './hasOwner.ts'
import { hashPassword, matchesPassword } from './password.ts'
import type { SessionKeeper } from './sessionKeeper.ts'
import { hashToken, matchesHash, newToken } from './token.ts'

const linkLength = 86_400_000

/** Passwords that are checked at once. */
const mostChecks = 16

/** The browser forgets the cookie after a year; the server ends an unused session long before. */
const cookieLength = 365 * 86_400_000

interface PeopleParts {
  readonly binder: Binder
  readonly database: Database
  readonly sessions: SessionKeeper
  readonly events: EventStore
  readonly now: () => number
  /** What lets someone become the owner. */
  readonly firstRunToken: string
}

/** First run, signing in and out, and one-time links. */
export function bindPeople({ binder, database, sessions, events, now, firstRunToken }: PeopleParts): void {
  const enter = async (
    someone: FoundSession['person'],
    request: Request,
    response: Response,
  ): Promise<Session> => {
    const { token, csrfToken } = await sessions.start(someone.id)
    response.cookie(sessionCookie, token, { ...cookieOptions(request), maxAge: cookieLength })
    return { state: 'signed-in', person: someone, csrfToken }
  }

  binder.bind(routes.getSession, async ({ session }): Promise<Session> => {
    if (session) return { state: 'signed-in', person: session.person, csrfToken: session.csrfToken }
    return { state: (await hasOwner(database)) ? 'signed-out' : 'first-run' }
  })

  const firstRunHash = hashToken(firstRunToken)
  binder.bind(routes.createOwner, async ({ body, request, response }) => {
    if (!matchesHash(body.token, firstRunHash)) {
      throw new ProblemError(
        'not-allowed',
        'The owner is created by the link that the server printed when it was started last.',
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
    const says = `${owner.name} became the owner.`
    await events.write({ kind: 'person', at: now(), personId: owner.id, says })
    return enter({ id: owner.id, name: owner.name, role: owner.role }, request, response)
  })

  const attempts = new Attempts(now)
  let checking = 0
  binder.bind(routes.signIn, async ({ body, request, response }) => {
    const attempt = { account: body.name.trim(), address: request.ip ?? '' }
    const wait = attempts.wait(attempt)
    if (wait > 0) {
      throw new ProblemError(
        'too-many-attempts',
        `Too many attempts to sign in failed. Wait ${wait} s, or use a sign-in link.`,
        {},
        { 'Retry-After': String(wait) },
      )
    }
    // To check a password costs memory and time on purpose, so only a few are checked at once.
    if (checking >= mostChecks)
      throw new ProblemError('overloaded', 'Too many are signing in just now.', {}, { 'Retry-After': '2' })
    checking++
    try {
      return await signIn(body, attempt, request, response)
    } finally {
      checking--
    }
  })

  const signIn = async (
    body: { name: string; password: string },
    attempt: Attempt,
    request: Request,
    response: Response,
  ) => {
    const [found] = await database.select().from(person).where(eq(person.name, body.name.trim()))
    if (!(await matchesPassword(body.password, found?.passwordHash)) || !found) {
      attempts.failed(attempt)
      throw new ProblemError('wrong-password', 'Name and password do not match.')
    }
    attempts.succeeded(attempt)
    return enter({ id: found.id, name: found.name, role: found.role }, request, response)
  }

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
