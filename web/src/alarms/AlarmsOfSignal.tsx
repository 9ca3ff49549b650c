import type { Signal } from '@jaunty-sparrow/contract'
import { Link } from 'react-router'
import { useMay } from '../people/useMay.ts'
import { AlarmSign } from './AlarmSign.tsx'
import { useAlarmsQuery } from './alarmsApi.ts'
import { isWhat, stateWords } from './alarmWords.ts'

/** The alarms of a signal, how each stands, and the way to a new one. */
export function AlarmsOfSignal({ signal, siteId }: { readonly signal: Signal; readonly siteId: number }) {
  const { data } = useAlarmsQuery()
  const canMake = useMay('owner', siteId)
  return (
    <ul className="grid gap-0.5 text-sm" data-alarms={signal.id}>
      {signal.alarms.map((alarm) => {
        const id = `${signal.id}.${alarm.key}`
        const standing = data?.alarms.find((each) => each.id === id)
        const state = standing?.state ?? 'normal'
        return (
          <li key={alarm.key} className="flex items-center gap-1.5">
            {state !== 'normal' && <AlarmSign alarm={{ alarm, state }} className="size-3" />}
            <Link to={`/guard/${id}`} className="text-ink-soft hover:text-chestnut hover:underline">
              alarm: {isWhat(alarm, signal)}
              {state !== 'normal' && `, ${stateWords[state]}`}
            </Link>
          </li>
        )
      })}
      {canMake && (
        <li>
          <Link to={`/guard/new/${signal.id}`} className="font-semibold text-chestnut hover:underline">
            New alarm
          </Link>
        </li>
      )}
    </ul>
  )
}
