import { routes } from '@jaunty-sparrow/contract'
import { mayAt, mayEverywhere } from '@jaunty-sparrow/core/access'
import { topicPatternProblem } from '@jaunty-sparrow/core/claim'
import { asc, eq } from 'drizzle-orm'
import type { DeviceParts } from '../devices/routes.ts'
import { demand, notAllowed } from '../http/binder.ts'
import { ProblemError } from '../http/problemResponse.ts'
import { claim } from '../store/schema.ts'
import type { TakingUp } from './takingUp.ts'

const columns = {
  id: claim.id,
  keyId: claim.keyId,
  by: claim.by,
  place: claim.place,
  value: claim.value,
  part: claim.part,
  deviceId: claim.deviceId,
}

export interface ClaimParts
  extends Pick<
    DeviceParts,
    'binder' | 'database' | 'registry' | 'messages' | 'hub' | 'recorder' | 'events' | 'now'
  > {
  readonly takingUp: TakingUp
}

/** Whose the messages are that came with somebody else's key, or that nobody is there for. */
export function bindClaims(parts: ClaimParts): void {
  const { binder, database, registry, messages, hub, takingUp, recorder, events, now } = parts
  binder.bind(routes.listUnclaimed, async () => {
    await recorder.flush()
    return messages.unclaimed()
  })

  binder.bind(routes.listClaims, async ({ caller }) => {
    const rows = await database.select(columns).from(claim).orderBy(asc(claim.id))
    return rows.filter(({ keyId }) => {
      const siteId = registry.byId(keyId)?.siteId
      return siteId !== undefined && mayAt(caller.access, 'viewer', siteId)
    })
  })

  binder.bind(routes.createClaim, async ({ body, caller }) => {
    const problem = problemOf(body)
    if (problem) throw new ProblemError('invalid', problem)
    const key = registry.byId(body.keyId)
    const absent = 'The device that was named does not exist.'
    demand(caller, 'owner', key?.siteId, absent)
    if (body.deviceId !== null) demand(caller, 'owner', registry.byId(body.deviceId)?.siteId, absent)
    // Which devices the key will speak for is found in what it sends: it may be any.
    else if (!mayEverywhere(caller.access, 'owner')) throw notAllowed(caller, 'owner', ' at all sites')
    if (!key) throw new ProblemError('not-found', absent)
    const [made] = await database.insert(claim).values(body).returning(columns)
    if (!made) throw new Error('the claim was not returned by the insert')
    await registry.load(key.kitId)
    const present = registry.byId(key.id)
    const taken = present ? await takingUp.ofKey(present) : { messages: 0, readings: 0 }
    hub.deviceChanged(key.address)
    const { id: _, ...after } = made
    const says = `"${key.name}" speaks for ${registry.byId(body.deviceId ?? 0)?.name ?? 'others'} now.`
    await events.write({
      kind: 'device',
      at: now(),
      caller,
      deviceId: key.id,
      says,
      change: { before: {}, after },
    })
    return { claim: made, ...taken }
  })

  binder.bind(routes.deleteClaim, async ({ params, caller }) => {
    const [gone] = await database.delete(claim).where(eq(claim.id, params.claimId)).returning(columns)
    if (!gone) throw new ProblemError('not-found', 'There is no such claim.')
    const key = registry.byId(gone.keyId)
    if (!key) return
    await registry.load(key.kitId)
    hub.deviceChanged(key.address)
    const { id: _, ...before } = gone
    const says = `"${key.name}" no longer speaks for ${registry.byId(gone.deviceId ?? 0)?.name ?? 'others'}.`
    await events.write({
      kind: 'device',
      at: now(),
      caller,
      deviceId: key.id,
      says,
      change: { before, after: {} },
    })
  })
}

interface Stated {
  readonly by: 'topic' | 'field'
  readonly place: string
  readonly value: string | null
  readonly deviceId: number | null
}

/** What is wrong with a claim, beyond its shape. */
function problemOf({ by, place, value, deviceId }: Stated): string | undefined {
  if (by === 'field') {
    if (!/^(\/[^/]+)+$/.test(place)) return 'A field is named by its JSON Pointer, such as /id.'
    return (value === null) === (deviceId === null)
      ? undefined
      : 'Name a device together with what the field holds for it, or neither when the field holds the address.'
  }
  const namesDevice = place.split('/').includes('{device}')
  if (namesDevice === (deviceId !== null))
    return 'Choose a device, or let the pattern find it with {device}; one of the two.'
  return topicPatternProblem(place)
}
