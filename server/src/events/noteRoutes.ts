import { routes } from '@jaunty-sparrow/contract'
import { mayAt } from '@jaunty-sparrow/core/access'
import { and, eq } from 'drizzle-orm'
import { type Binder, demand } from '../http/binder.ts'
import { ProblemError } from '../http/problemResponse.ts'
import type { Database } from '../store/database.ts'
import { datedEvent } from '../store/schema.ts'
import type { EventStore } from './eventStore.ts'

/** A note may be of what is about to be, ms: clocks differ. */
const ahead = 60_000

interface NotedDevice {
  readonly id: number
  readonly siteId: number
}

/** What can be noted of. */
interface Devices {
  byId(id: number): NotedDevice | undefined
  get(address: string): NotedDevice | undefined
  signal(id: number): { readonly address: string } | undefined
}

export interface NoteParts {
  readonly binder: Binder
  readonly database: Database
  readonly registry: Devices
  readonly events: EventStore
  readonly now: () => number
}

/** What people write down of what was at a time. */
export function bindNotes({ binder, database, registry, events, now }: NoteParts): void {
  binder.bind(routes.createNote, async ({ body: { says, at, siteId, deviceId, signalId }, caller }) => {
    demand(caller, 'operator', siteId, 'There is no such site.')
    const ofSignal =
      signalId === undefined ? undefined : registry.get(registry.signal(signalId)?.address ?? '')
    const device = deviceId === undefined ? ofSignal : registry.byId(deviceId)
    const isThere =
      (deviceId === undefined && signalId === undefined) ||
      (device?.siteId === siteId && (signalId === undefined || ofSignal === device))
    if (!isThere) throw new ProblemError('not-found', 'There is no such device or signal at this site.')
    if (at > now() + ahead)
      throw new ProblemError('invalid', 'A note is of what was: its time must not lie ahead.')
    const made = await events.write({
      kind: 'note',
      at,
      caller,
      siteId,
      deviceId: device?.id ?? null,
      signalId: signalId ?? null,
      says: says.trim(),
    })
    if (!made) throw new Error('the note was not written')
    return made
  })

  binder.bind(routes.deleteNote, async ({ params, caller }) => {
    const isNote = and(eq(datedEvent.id, params.eventId), eq(datedEvent.kind, 'note'))
    const [found] = await database.select().from(datedEvent).where(isNote)
    if (!found) throw new ProblemError('not-found', 'There is no such note.')
    const isOwn = found.personId === caller.person.id
    if (!isOwn && !mayAt(caller.access, 'owner', found.siteId ?? 0))
      throw new ProblemError(
        'not-allowed',
        'Somebody else wrote this note; whoever owns the site can take it back.',
      )
    await events.remove(found.id)
  })
}
