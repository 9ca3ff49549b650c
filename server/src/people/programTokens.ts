import { type Access, lent, noAccess, roleOf } from '@jaunty-sparrow/core/access'
import { and, eq, gt, isNull, or } from 'drizzle-orm'
import type { Caller, Programs } from '../http/session.ts'
import { hashToken } from '../secrets/token.ts'
import type { Database } from '../store/database.ts'
import { person, programToken } from '../store/schema.ts'
import { readAccess } from './access.ts'

const minute = 60_000

/** A program that shows its token. */
export interface Program extends Caller {
  /** Which devices it may send for. */
  readonly sendsFor: readonly number[]
  /** What whoever made it may do now; who owns a device may let programs send for it. */
  readonly maker: Access
}

/** What programs may do by the tokens that people made for them: never more than whoever made it may now. */
export class ProgramTokens implements Programs {
  readonly #database: Database
  readonly #now: () => number

  constructor(database: Database, now: () => number) {
    this.#database = database
    this.#now = now
  }

  async find(token: string): Promise<Program | undefined> {
    const now = new Date(this.#now())
    const [found] = await this.#database
      .select({ row: programToken, person: { id: person.id, name: person.name } })
      .from(programToken)
      .innerJoin(person, eq(person.id, programToken.personId))
      .where(
        and(
          eq(programToken.tokenHash, hashToken(token)),
          or(isNull(programToken.expiresAt), gt(programToken.expiresAt, now)),
        ),
      )
    if (!found) return undefined
    const { id, name, scopes, siteIds, deviceIds, usedAt } = found.row
    // To the minute, so that a program that asks often does not write as often.
    if (usedAt === null || usedAt.getTime() < now.getTime() - minute)
      await this.#database.update(programToken).set({ usedAt: now }).where(eq(programToken.id, id))
    const maker = (await readAccess(this.#database, [found.person.id])).get(found.person.id) ?? noAccess
    return {
      person: found.person,
      access: lent(maker, roleOf(scopes), siteIds),
      units: [],
      token: name,
      maker,
      sendsFor: scopes.includes('send') ? deviceIds : [],
    }
  }
}
