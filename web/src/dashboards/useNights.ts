import { useMemo } from 'react'
import { useSiteDayQuery } from '../sites/siteDayApi.ts'
import { useBeat } from '../time/clock.ts'

const renewed = 10 * 60_000

/** When the sun was down at a site in the day up to a moment; nobody knows more of it than the strip. */
export function useNights(siteId: number, moment: number | undefined, isShared: boolean) {
  const now = useBeat(renewed) + renewed
  const to = moment === undefined ? now : Math.ceil(moment / renewed) * renewed
  const { data } = useSiteDayQuery({ siteId, to }, { skip: isShared || siteId === 0 })
  return useMemo(() => (data?.nights ?? []).map(([from, end]) => ({ from, to: end })), [data])
}
