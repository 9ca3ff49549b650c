import { routes } from '@jaunty-sparrow/contract'
import { mayAt, mayEverywhere } from '@jaunty-sparrow/core/access'
import type { EventStore } from '../events/eventStore.ts'
import { type Binder, demand, notAllowed } from '../http/binder.ts'
import type { Caller } from '../http/session.ts'
import type { SeenLinks } from './seenLinks.ts'
import type { WayBook } from './wayBook.ts'

export interface NoticeRouteParts {
  readonly binder: Binder
  readonly wayBook: WayBook
  readonly seenLinks: SeenLinks
  readonly events: EventStore
  /** Whether mail can be sent. */
  readonly canMail: boolean
  readonly vapidKeys: () => Promise<{ readonly publicKey: string }>
  /** Told when something is to be sent, or ways are otherwise than they were. */
  readonly noticesChanged: () => void
  readonly now: () => number
}

/** What people say of the ways by which they are told, and see of what was sent. */
export function bindNotices(parts: NoticeRouteParts): void {
  const { binder, wayBook, seenLinks, events, canMail, vapidKeys, noticesChanged, now } = parts
  /** What tells of all sites is for those who look after all of them. */
  const isSeenBy =
    ({ access }: Caller) =>
    ({ siteId }: { readonly siteId: number | null }) =>
      siteId === null ? mayEverywhere(access, 'operator') : mayAt(access, 'operator', siteId)
  const tell = async (caller: Caller, siteId: number | null, says: string) => {
    noticesChanged()
    await events.write({ kind: 'way', at: now(), caller, siteId, says })
  }

  binder.bind(routes.listWays, async ({ caller }) => ({
    ways: (await wayBook.list()).filter(isSeenBy(caller)),
    mail: canMail,
  }))

  binder.bind(routes.getPushKey, async () => ({ key: (await vapidKeys()).publicKey }))

  binder.bind(routes.createWay, async ({ body: { kind, siteId, ...stated }, caller }) => {
    // One's own browser is one's own matter.
    const needed = kind === 'push' ? 'operator' : 'owner'
    if (siteId !== null) demand(caller, needed, siteId, 'There is no such site.')
    else if (!mayEverywhere(caller.access, needed)) throw notAllowed(caller, needed, ' at all sites')
    const made = await wayBook.create(kind, siteId, stated, caller.person.id)
    await tell(caller, siteId, `“${made.way.name}” is told of alarms from now on.`)
    return made
  })

  binder.bind(routes.changeWay, async ({ params: { wayId }, body, caller }) => {
    const changed = await wayBook.change(wayId, body)
    await tell(caller, changed.siteId, `Of what “${changed.name}” is told was changed.`)
    return changed
  })

  binder.bind(routes.deleteWay, async ({ params: { wayId }, caller }) => {
    const { siteId, name } = await wayBook.find(wayId)
    await wayBook.remove(wayId)
    await tell(caller, siteId, `“${name}” is told of alarms no more.`)
  })

  binder.bind(routes.testWay, async ({ params: { wayId } }) => {
    const notice = await wayBook.test(wayId)
    noticesChanged()
    return notice
  })

  binder.bind(routes.listNotices, async ({ query: { before, wayId }, caller }) => {
    const notices = await wayBook.notices(before, wayId)
    return notices.filter(isSeenBy(caller)).map(({ siteId: _, ...notice }) => notice)
  })

  binder.bind(routes.readSeenLink, ({ body: { token } }) => seenLinks.read(token))

  binder.bind(routes.useSeenLink, async ({ body: { token, word = '' } }) => ({
    moved: await seenLinks.use(token, word.trim()),
  }))
}
