import type { DatedEvent } from '@jaunty-sparrow/contract'
import { isEqual, pickBy } from 'lodash-es'

type Row = Readonly<Record<string, unknown>>

/** What differs between two states of a thing, of the members that were stated; null where nothing does. */
export function changeOf(before: Row, after: Row, stated: readonly string[]): DatedEvent['change'] {
  const differs = (_: unknown, key: string) => stated.includes(key) && !isEqual(before[key], after[key])
  const change = { before: pickBy(before, differs), after: pickBy(after, differs) }
  return Object.keys(change.after).length + Object.keys(change.before).length === 0 ? null : change
}
