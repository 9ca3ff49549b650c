import { type ProgramToken, routes } from '@jaunty-sparrow/contract'
import { mayAt, mayEverywhere } from '@jaunty-sparrow/core/access'
import { asc, eq } from 'drizzle-orm'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import { demand } from '../http/binder.ts'
import { ProblemError } from '../http/problemResponse.ts'
import type { Caller } from '../http/session.ts'
import { hashToken, newToken } from '../secrets/token.ts'
import { person, programToken } from '../store/schema.ts'
import type { PeopleParts } from './routes.ts'

interface TokenParts extends PeopleParts {
  readonly registry: DeviceRegistry
}

type Row = typeof programToken.$inferSelect

/** Keys for programs. */
export function bindTokens({ binder, database, registry, events, accessChanged, now }: TokenParts): void {
  const told = (
    { tokenHash: _, personId: __, deviceIds, expiresAt, usedAt, createdAt, ...row }: Row,
    by: string,
  ): ProgramToken => ({
    ...row,
    by,
    devices: deviceIds.flatMap((id) => registry.byId(id)?.address ?? []),
    expiresAt: expiresAt?.getTime() ?? null,
    usedAt: usedAt?.getTime() ?? null,
    createdAt: createdAt.getTime(),
  })
  const isOwn = ({ access, person: { id } }: Caller, { personId }: Row): boolean =>
    personId === id || mayEverywhere(access, 'owner')

  binder.bind(routes.listTokens, async ({ caller }) => {
    const rows = await database
      .select({ row: programToken, by: person.name })
      .from(programToken)
      .innerJoin(person, eq(person.id, programToken.personId))
      .orderBy(asc(programToken.id))
    return rows.filter(({ row }) => isOwn(caller, row)).map(({ row, by }) => told(row, by))
  })

  binder.bind(routes.createToken, async ({ caller, body: { devices, expiresAt, ...rest } }) => {
    if (expiresAt !== null && expiresAt <= now())
      throw new ProblemError('invalid', 'A token that has ended already opens nothing; choose a later end.')
    if (rest.scopes.includes('send') !== devices.length > 0)
      throw new ProblemError('invalid', 'Choose the devices it may send for, together with the scope "send".')
    for (const siteId of rest.siteIds ?? [])
      if (!mayAt(caller.access, 'viewer', siteId))
        throw new ProblemError('not-found', 'There is no such site.')
    const deviceIds = devices.map((address) => {
      const known = registry.get(address)
      demand(caller, 'owner', known?.siteId, `No device has the address "${address}".`)
      return known?.id ?? 0
    })
    const token = newToken()
    const [made] = await database
      .insert(programToken)
      .values({
        ...rest,
        tokenHash: hashToken(token),
        personId: caller.person.id,
        deviceIds,
        expiresAt: expiresAt === null ? null : new Date(expiresAt),
        createdAt: new Date(now()),
      })
      .returning()
    if (!made) throw new Error('the token was not returned by the insert')
    const { scopes, siteIds } = rest
    await events.write({
      kind: 'token',
      at: now(),
      caller,
      says: `The token "${rest.name}" was made.`,
      change: { before: {}, after: { scopes, siteIds, devices, expiresAt } },
    })
    return { token, description: told(made, caller.person.name) }
  })

  binder.bind(routes.withdrawToken, async ({ caller, params: { tokenId } }) => {
    const [found] = await database.select().from(programToken).where(eq(programToken.id, tokenId))
    if (!found || !isOwn(caller, found)) throw new ProblemError('not-found', 'There is no such token.')
    await database.delete(programToken).where(eq(programToken.id, tokenId))
    accessChanged()
    await events.write({
      kind: 'token',
      at: now(),
      caller,
      says: `The token "${found.name}" was taken back.`,
    })
  })
}
