import { parse } from 'cookie'
import { and, eq, gt, inArray, lt } from 'drizzle-orm'
import { type FoundSession, type Sessions, sessionCookie } from '../http/session.ts'
import type { Database } from '../store/database.ts'
import { person, session } from '../store/schema.ts'
import { hashToken, newToken } from './token.ts'

const day = 86_400_000
/** A session lasts this long after it was last renewed. */
const sessionLength = 30 * day

/** Keeps the sessions of people: on the server by hash, in the browser as a cookie. */
export class SessionKeeper implements Sessions {
  readonly #database: Database
  readonly #now: () => number
  readonly #listeners: ((tokenHash: Buffer) => void)[] = []

  constructor(database: Database, now: () => number) {
    this.#database = database
    this.#now = now
  }

  /** Calls back when a session ends before its time. */
  onEnded(listener: (tokenHash: Buffer) => void): void {
    this.#listeners.push(listener)
  }

  /** Starts a session. @returns the token for the cookie, told here and never again */
  async start(personId: number): Promise<{ token: string; csrfToken: string }> {
    const token = newToken()
    const csrfToken = newToken()
    const now = this.#now()
    await this.#database.delete(session).where(lt(session.expiresAt, new Date(now)))
    await this.#database
      .insert(session)
      .values({ tokenHash: hashToken(token), personId, csrfToken, expiresAt: new Date(now + sessionLength) })
    return { token, csrfToken }
  }

  /** Finds the session a request belongs to. */
  async find(cookieHeader: string | undefined): Promise<FoundSession | undefined> {
    const token = cookieHeader && parse(cookieHeader)[sessionCookie]
    if (!token) return undefined
    const now = this.#now()
    const [found] = await this.#database
      .select({ session, id: person.id, name: person.name, role: person.role })
      .from(session)
      .innerJoin(person, eq(person.id, session.personId))
      .where(and(eq(session.tokenHash, hashToken(token)), gt(session.expiresAt, new Date(now))))
    if (!found) return undefined
    const { tokenHash, csrfToken, expiresAt } = found.session
    // Renewed at most once a day, so that looking at pages does not write.
    if (expiresAt.getTime() < now + sessionLength - day) {
      await this.#database
        .update(session)
        .set({ expiresAt: new Date(now + sessionLength) })
        .where(eq(session.tokenHash, tokenHash))
    }
    return { tokenHash, csrfToken, person: { id: found.id, name: found.name, role: found.role } }
  }

  async end(tokenHash: Buffer): Promise<void> {
    await this.#database.delete(session).where(eq(session.tokenHash, tokenHash))
    for (const listener of this.#listeners) listener(tokenHash)
  }

  /** Which of these sessions are no more. */
  async expired(tokenHashes: readonly Buffer[]): Promise<Buffer[]> {
    if (tokenHashes.length === 0) return []
    const alive = await this.#database
      .select({ tokenHash: session.tokenHash })
      .from(session)
      .where(and(inArray(session.tokenHash, [...tokenHashes]), gt(session.expiresAt, new Date(this.#now()))))
    return tokenHashes.filter((hash) => !alive.some(({ tokenHash }) => tokenHash.equals(hash)))
  }
}
