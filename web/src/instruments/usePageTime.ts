import type { Signal } from '@jaunty-sparrow/contract'
import { useMemo } from 'react'
import { useDescriptionsAtQuery, useReadingsAtQuery } from '../signals/signalsApi.ts'
import { liveTime, type PageTime } from '../time/pageTime.ts'

/** What signals said and were at a moment of the past. @param moment epoch ms; undefined for now */
export function usePageTime(signals: readonly Signal[], moment: number | undefined): PageTime {
  const asked = { signals: signals.map(({ id }) => id).join(), at: moment ?? 0 }
  const skip = moment === undefined || signals.length === 0
  // While the next moment is on its way the one before stays on the screen.
  const { data: readings } = useReadingsAtQuery(asked, { skip })
  const { data: descriptions } = useDescriptionsAtQuery(asked, { skip })
  return useMemo(() => {
    if (moment === undefined) return liveTime
    const said = new Map(readings?.map(({ signal, ...reading }) => [signal, reading]))
    const was = new Map(descriptions?.map(({ signal, ...described }) => [signal, described]))
    return {
      moment,
      latest: (id) => said.get(id) ?? null,
      asThen: (signal) => ({ ...signal, ...was.get(signal.id), doubt: null }),
    }
  }, [moment, readings, descriptions])
}
