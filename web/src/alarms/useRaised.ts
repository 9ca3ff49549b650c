import type { Device } from '@jaunty-sparrow/contract'
import type { RaisedAlarm } from '@jaunty-sparrow/drawings/chart'
import groupBy from 'lodash-es/groupBy.js'
import { useMemo } from 'react'
import { useRaisedAlarmsQuery } from './alarmsApi.ts'
import { isAboutTooLittle } from './isAboutTooLittle.ts'

/** What is shown moves on all the time: it is asked for in steps of that, ms. */
const step = 600_000

/** When alarms of a device were raised within what is shown, by signal; of none where strangers look. */
export function useRaised(
  device: Pick<Device, 'id'> | undefined,
  shown: { readonly from: number; readonly to: number },
): ReadonlyMap<number, readonly RaisedAlarm[]> {
  const from = Math.floor(shown.from / step) * step
  const to = Math.ceil(shown.to / step + 1) * step
  const { data } = useRaisedAlarmsQuery(
    { deviceId: device?.id ?? 0, from, to },
    { skip: device === undefined },
  )
  return useMemo(() => {
    const raised = (data ?? []).map(({ id, at, says, signalId, alarmId }) => ({
      id,
      at,
      says,
      signalId,
      isLow: isAboutTooLittle(alarmId),
    }))
    return new Map(
      Object.entries(groupBy(raised, ({ signalId }) => signalId)).map(([id, all]) => [Number(id), all]),
    )
  }, [data])
}
