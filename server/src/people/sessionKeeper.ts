import type { Preferences } from '@jaunty-sparrow/contract'
import { noAccess } from '@jaunty-sparrow/core/access'
import { parse } from 'cookie'
import { and, desc, eq, gt, inArray, lt, ne } from 'drizzle-orm'
import { type FoundSession, type Sessions, sessionCookie } from '../http/session.ts'
import { hashToken, newToken } from '../secrets/token.ts'
import type { Database } from '../store/database.ts'
import { person, session } from '../store/schema.ts'
import { readAccess } from './access.ts'

const hour = 3_600_000
/** A session lasts this long after it was last used. */
const sessionLength = 30 * 24 * hour

/** Of what a browser says of itself the beginning is enough to tell it from others. */
const longestBrowser = 200

const usualPreferences: Preferences = {
  language: null,
  theme: 'system',
  units: [],
  favourites: [],
  home: null,
}

/** How a session began. */
export interface Beginning {
  /** What the browser says of itself. */
  readonly browser: string
  readonly byLink?: boolean
}

/** Keeps the sessions of people: on the server by hash, in the browser as a cookie. */
export class SessionKeeper implements Sessions {
  readonly #database: Database
  readonly #now: () => number
  readonly #listeners: ((tokenHashes: readonly Buffer[]) => void)[] = []

  constructor(database: Database, now: () => number) {
    this.#database = database
    this.#now = now
  }

  /** Calls back when sessions end before their time. */
  onEnded(listener: (tokenHashes: readonly Buffer[]) => void): void {
    this.#listeners.push(listener)
  }

  /** Starts a session. @returns the token for the cookie, told here and never again */
  async start(personId: number, { browser, byLink = false }: Beginning): Promise<string> {
    const token = newToken()
    const now = this.#now()
    await this.#database.delete(session).where(lt(session.expiresAt, new Date(now)))
    await this.#database.insert(session).values({
      tokenHash: hashToken(token),
      personId,
      csrfToken: newToken(),
      expiresAt: new Date(now + sessionLength),
      createdAt: new Date(now),
      usedAt: new Date(now),
      browser: browser.slice(0, longestBrowser),
      byLink,
    })
    return token
  }

  /** Finds the session a request belongs to. */
  async find(cookieHeader: string | undefined): Promise<FoundSession | undefined> {
    const token = cookieHeader && parse(cookieHeader)[sessionCookie]
    return token ? this.of(token) : undefined
  }

  /** The session of a token. */
  async of(token: string): Promise<FoundSession | undefined> {
    const now = this.#now()
    const [found] = await this.#database
      .select({ session, id: person.id, name: person.name, preferences: person.preferences })
      .from(session)
      .innerJoin(person, eq(person.id, session.personId))
      .where(and(eq(session.tokenHash, hashToken(token)), gt(session.expiresAt, new Date(now))))
    if (!found) return undefined
    const { id, tokenHash, csrfToken, usedAt, byLink } = found.session
    // Renewed at most once an hour, so that looking at pages does not write.
    if (usedAt.getTime() < now - hour) {
      await this.#database
        .update(session)
        .set({ usedAt: new Date(now), expiresAt: new Date(now + sessionLength) })
        .where(eq(session.tokenHash, tokenHash))
    }
    const access = (await readAccess(this.#database, [found.id])).get(found.id) ?? noAccess
    const preferences = { ...usualPreferences, ...found.preferences }
    return {
      id,
      tokenHash,
      csrfToken,
      byLink,
      preferences,
      units: preferences.units,
      person: { id: found.id, name: found.name },
      access,
      token: null,
    }
  }

  /** Where a person is signed in, the latest used first. */
  async list(personId: number) {
    return this.#database
      .select()
      .from(session)
      .where(and(eq(session.personId, personId), gt(session.expiresAt, new Date(this.#now()))))
      .orderBy(desc(session.usedAt), desc(session.id))
  }

  /** Ends one session of a person. @returns whether there was such a one */
  async end(personId: number, id: number): Promise<boolean> {
    return this.#ended(
      await this.#database
        .delete(session)
        .where(and(eq(session.personId, personId), eq(session.id, id)))
        .returning({ tokenHash: session.tokenHash }),
    )
  }

  /** Ends all sessions of a person but one. */
  async endOthers(personId: number, id: number): Promise<void> {
    this.#ended(
      await this.#database
        .delete(session)
        .where(and(eq(session.personId, personId), ne(session.id, id)))
        .returning({ tokenHash: session.tokenHash }),
    )
  }

  /** From now on this session takes no new password without the old one. */
  async knowsPassword(id: number): Promise<void> {
    await this.#database.update(session).set({ byLink: false }).where(eq(session.id, id))
  }

  /** Takes a person away with all sessions of theirs. */
  async remove(personId: number): Promise<void> {
    const gone = await this.#database
      .delete(session)
      .where(eq(session.personId, personId))
      .returning({ tokenHash: session.tokenHash })
    await this.#database.delete(person).where(eq(person.id, personId))
    this.#ended(gone)
  }

  #ended(gone: readonly { tokenHash: Buffer }[]): boolean {
    const hashes = gone.map(({ tokenHash }) => tokenHash)
    if (hashes.length > 0) for (const listener of this.#listeners) listener(hashes)
    return hashes.length > 0
  }

  /** What is allowed now to those of these sessions that are still alive. */
  async alive(
    tokenHashes: readonly Buffer[],
  ): Promise<{ tokenHash: Buffer; access: FoundSession['access'] }[]> {
    if (tokenHashes.length === 0) return []
    const alive = await this.#database
      .select({ tokenHash: session.tokenHash, personId: session.personId })
      .from(session)
      .where(and(inArray(session.tokenHash, [...tokenHashes]), gt(session.expiresAt, new Date(this.#now()))))
    const access = await readAccess(
      this.#database,
      alive.map(({ personId }) => personId),
    )
    return alive.map(({ tokenHash, personId }) => ({ tokenHash, access: access.get(personId) ?? noAccess }))
  }
}
