import { useMemo } from 'react'
import { isAboutTooLittle } from '../alarms/isAboutTooLittle.ts'
import { useNotesQuery } from '../notes/notesApi.ts'
import { useBeat } from '../time/clock.ts'

const day = 24 * 3_600_000
const renewed = 10 * 60_000
/** The longest span that instruments draw, ms. */
const reach = 30 * day

/** What was written down, commanded, or raised as an alarm at a site in what is drawn up to a moment. */
export function useShownNotes(
  siteId: number,
  moment: number | undefined,
  isShared: boolean,
  kind: 'note' | 'command' | 'alarm' = 'note',
) {
  const now = useBeat(renewed) + renewed
  const to = moment === undefined ? now : Math.ceil(moment / renewed) * renewed
  const { data } = useNotesQuery({ siteId, from: to - reach, to, kind }, { skip: isShared || siteId === 0 })
  return useMemo(
    () =>
      (data ?? [])
        // What came after the moment was not known then.
        .filter(({ at }) => moment === undefined || at <= moment)
        .map(({ id, at, says, person, deviceId, signalId, alarmId }) => ({
          id,
          at,
          says,
          person,
          deviceId,
          signalId,
          isLow: isAboutTooLittle(alarmId),
        })),
    [data, moment],
  )
}
