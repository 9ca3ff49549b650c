import { routes } from '@jaunty-sparrow/contract'
import type { Binder } from '../http/binder.ts'
import type { ReachedAt } from './reach.ts'

export interface ReachParts {
  readonly binder: Binder
  readonly reach: ReachedAt
}

/** By which addresses the server is reached. */
export function bindReach({ binder, reach }: ReachParts): void {
  binder.bind(routes.getReach, async () => reach.told())
}
