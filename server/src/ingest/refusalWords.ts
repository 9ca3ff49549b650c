import type { Refusal } from '@jaunty-sparrow/core/interpret'
import { fieldLabel } from '@jaunty-sparrow/core/message'

/** Why a message was refused, as it stands in lists. */
export const reasonOf = ({
  refused,
  detail,
}: {
  readonly refused: readonly Refusal[]
  readonly detail: string
}): string => (refused.length > 0 ? inShort(refused) : detail)

/** The first refusal, as it stands in lists. */
export const inShort = ([first]: readonly Refusal[]): string =>
  first ? `${fieldLabel(first.field)}: ${first.reason}` : ''

/** All refusals in a sentence, for an answer. */
export function summarize(refused: readonly Refusal[]): string {
  const [first] = refused
  if (!first) return 'Nothing in the message could be stored.'
  const more = refused.length > 1 ? ` (and ${refused.length - 1} more, listed in "refused")` : ''
  return `${first.field}: ${first.reason}${more}.`
}
