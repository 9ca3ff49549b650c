import { type ShownAs, shownValue } from '@jaunty-sparrow/core/signal'
import type { Needs } from './instrument.ts'

const hour = 3_600_000

/** How far back is added up, ms: a day of hours, a month of days, a year of months. */
export const totalsReach = { hour: 24 * hour, day: 30 * 24 * hour, month: 365 * 24 * hour } as const

type Told = readonly [at: number, value: number] | null

/** What the readings of a period come to, as it is told. */
interface ToldTotal {
  readonly mean: number | null
  readonly lowest: Told
  readonly highest: Told
  readonly first: Told
  readonly last: Told
  /** Codes of states, each with how long it was held, ms. */
  readonly lasted: readonly (readonly [code: number, ms: number])[]
}

/** The one number of a total that is drawn, in the unit it is seen in; of what lasted, hours. */
export function totalOf(
  { mean, lowest, highest, first, last, lasted }: ToldTotal,
  of: NonNullable<Needs['totals']>['of'],
  shownAs: ShownAs | null,
): number | null {
  const seen = (value: number | null | undefined) =>
    value === null || value === undefined ? null : shownValue(value, { shownAs })
  if (of === 'mean') return seen(mean)
  if (of === 'highest') return seen(highest?.[1])
  if (of === 'lowest') return seen(lowest?.[1])
  if (of === 'lasted')
    return lasted.filter(([code]) => code !== 0).reduce((sum, [, ms]) => sum + ms, 0) / hour
  const [begin, end] = [seen(first?.[1]), seen(last?.[1])]
  return begin === null || end === null ? null : end - begin
}
