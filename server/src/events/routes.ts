import { routes } from '@jaunty-sparrow/contract'
import type { Binder } from '../http/binder.ts'
import { ProblemError } from '../http/problemResponse.ts'
import type { EventStore } from './eventStore.ts'

export interface EventParts {
  readonly binder: Binder
  readonly events: EventStore
}

/** What happened, by span and thing. */
export function bindEvents({ binder, events }: EventParts): void {
  binder.bind(routes.listEvents, async ({ query, caller }) => {
    if (query.to <= query.from) throw new ProblemError('invalid', '"to" must be after "from".')
    return events.list(query, caller.access)
  })
}
