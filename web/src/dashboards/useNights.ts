import { nights } from '@jaunty-sparrow/core/sun'
import { useMemo } from 'react'
import { useSitesQuery } from '../sites/sitesApi.ts'
import { useBeat } from '../time/clock.ts'

const renewed = 10 * 60_000
/** The longest span that is drawn with its nights, ms; of more they would be a haze. */
const reach = 31 * 24 * 3_600_000

/** When the sun was down at a site up to a moment; strangers are not told where it lies. */
export function useNights(siteId: number, moment: number | undefined, isShared: boolean) {
  const now = useBeat(renewed) + renewed
  const to = moment === undefined ? now : Math.ceil(moment / renewed) * renewed
  const { data: sites } = useSitesQuery(undefined, { skip: isShared })
  const { lat = null, lon = null } = sites?.find(({ id }) => id === siteId) ?? {}
  return useMemo(
    () => (lat === null || lon === null ? [] : nights(to - reach, to, { lat, lon })),
    [lat, lon, to],
  )
}
