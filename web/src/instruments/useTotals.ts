import type { Signal, Total } from '@jaunty-sparrow/contract'
import { shownValue } from '@jaunty-sparrow/core/signal'
import type { Needs, ShownTotal } from '@jaunty-sparrow/drawings/instrument'
import { useMemo } from 'react'
import { useTotalsQuery } from '../signals/signalsApi.ts'
import { useBeat } from '../time/clock.ts'
import { seenAs } from './toShown.ts'

const hour = 3_600_000
const renewed = 60_000
/** How far back is looked, ms: a day of hours, a month of days, a year of months. */
const reach = { hour: 24 * hour, day: 30 * 24 * hour, month: 365 * 24 * hour } as const

/** What signals come to, up to a moment, in the unit they are seen in. @param moment epoch ms; undefined for now */
export function useTotals(
  signals: readonly Signal[],
  totals: Needs['totals'],
  moment: number | undefined,
  unit: string | null,
): ReadonlyMap<number, readonly ShownTotal[]> {
  const now = useBeat(renewed)
  const to = Math.ceil((moment ?? now) / renewed) * renewed
  const { by = 'day', of = 'mean' } = totals ?? {}
  const { data } = useTotalsQuery(
    { signals: signals.map(({ id }) => id).join(), from: to - reach[by], to, by },
    { skip: totals === undefined || signals.length === 0 },
  )
  return useMemo(
    () =>
      new Map(
        (data ?? []).map(({ signal: id, totals: told }) => {
          const signal = signals.find((each) => each.id === id)
          const shownAs = signal ? seenAs(signal, unit) : null
          return [
            id,
            told.map(({ from, to, ...total }) => ({ from, to, value: totalOf(total, of, shownAs) })),
          ]
        }),
      ),
    [data, signals, of, unit],
  )
}

function totalOf(
  { mean, lowest, highest, first, last, lasted }: Omit<Total, 'from' | 'to'>,
  of: NonNullable<Needs['totals']>['of'],
  shownAs: Signal['shownAs'],
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
