import type { Signal } from '@jaunty-sparrow/contract'
import {
  type Needs,
  type ShownTotal,
  seenAs,
  totalOf,
  totalsReach,
} from '@jaunty-sparrow/drawings/instrument'
import { useMemo } from 'react'
import { useTotalsQuery } from '../signals/signalsApi.ts'
import { useBeat } from '../time/clock.ts'

const renewed = 60_000

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
    { signals: signals.map(({ id }) => id).join(), from: to - totalsReach[by], to, by },
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
