import { routes, type Session } from '@jaunty-sparrow/contract'
import { and, eq, gt, sql } from 'drizzle-orm'
import type { Request, Response } from 'express'
import type { EventStore } from '../events/eventStore.ts'
import type { Binder } from '../http/binder.ts'
import { ProblemError } from '../http/problemResponse.ts'
import { type FoundSession, sessionCookie } from '../http/session.ts'
import { hashToken, matchesHash, newToken } from '../secrets/token.ts'
import type { Database } from '../store/database.ts'
import { person, signInLink } from '../store/schema.ts'
import { writeAccess } from './access.ts'
import { Attempts } from './attempts.ts'
import { hasOwner } from './hasOwner.ts'
import { hashPassword, matchesPassword } from './password.ts'
import type { SessionKeeper } from './sessionKeeper.ts'

const linkLength = 86_400_000

/** The browser forgets the cookie after a year; the server ends an unused session long before. */
const cookieLength = 365 * 86_400_000

export interface PeopleParts {
  readonly binder: Binder
  readonly database: Database
  readonly sessions: SessionKeeper
  readonly events: EventStore
  /** Called when somebody may do other things than before: who looks on is asked again. */
  readonly accessChanged: () => void
  readonly now: () => number
  /** What lets someone become the owner. */
  readonly firstRunToken: string
}

/** First run, signing in and out, and one-time links. */
export function bindPeople({ binder, database, sessions, events, now, firstRunToken }: PeopleParts): void {
  const enter = entering(sessions)

  binder.bind(routes.getSession, async ({ caller }): Promise<Session> => {
    if (caller) return tellSession(caller)
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
      const [made] = await tx.insert(person).values({ name: body.name.trim(), passwordHash }).returning()
      if (!made) throw new Error('the owner was not returned by the insert')
      await writeAccess(tx, made.id, { everywhere: 'owner', sites: [] })
      return made
    })
    const says = `${owner.name} became the owner.`
    await events.write({ kind: 'person', at: now(), caller: { person: owner, token: null }, says })
    return enter(owner.id, request, response)
  })

  const attempts = new Attempts(now)
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
    const [found] = await database.select().from(person).where(eq(person.name, attempt.account))
    if (!(await matchesPassword(body.password, found?.passwordHash)) || !found) {
      attempts.failed(attempt)
      throw new ProblemError('wrong-password', 'Name and password do not match.')
    }
    attempts.succeeded(attempt)
    return enter(found.id, request, response)
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
    return enter(found.id, request, response, true)
  })

  binder.bind(routes.signOut, async ({ caller, request, response }) => {
    await sessions.end(caller.person.id, caller.id)
    response.clearCookie(sessionCookie, cookieOptions(request))
  })

  binder.bind(routes.createSignInLink, ({ caller }) => signInLinkFor(database, caller.person.id, now()))
}

/** Makes a link that signs a person in, once, within a day. */
export async function signInLinkFor(database: Database, personId: number, now: number) {
  const token = newToken()
  const expiresAt = now + linkLength
  await database
    .insert(signInLink)
    .values({ tokenHash: hashToken(token), personId, expiresAt: new Date(expiresAt) })
  return { token, expiresAt }
}

export const tellSession = ({ person, access, preferences, csrfToken, byLink }: FoundSession): Session => ({
  state: 'signed-in',
  person: { ...person, access },
  preferences,
  mayForgetPassword: byLink,
  csrfToken,
})

/** Begins a session and gives its cookie. */
export const entering =
  (sessions: SessionKeeper) =>
  async (personId: number, request: Request, response: Response, byLink = false): Promise<Session> => {
    const token = await sessions.start(personId, { browser: request.get('User-Agent') ?? '', byLink })
    response.cookie(sessionCookie, token, { ...cookieOptions(request), maxAge: cookieLength })
    const session = await sessions.of(token)
    if (!session) throw new Error('a session that has just begun was not found')
    return tellSession(session)
  }

export const nameTaken = (name: string): ProblemError =>
  new ProblemError('conflict', `There is already somebody called "${name}"; choose another name.`)

const cookieOptions = (request: Request) =>
  ({ httpOnly: true, sameSite: 'lax', secure: request.secure, path: '/' }) as const
