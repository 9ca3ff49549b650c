import type { Signal } from '@jaunty-sparrow/contract'
import { Link } from 'react-router'
import { AlarmSign } from './AlarmSign.tsx'
import { useAlarmsQuery } from './alarmsApi.ts'
import { stateWords, titleOf } from './alarmWords.ts'

const noAlarms: never[] = []

/** The alarms of some signals that somebody is asked about, as signs that lead to them. */
export function AlarmsHere({ signals }: { readonly signals: readonly Signal[] }) {
  const { alarms } = useAlarmsQuery(undefined, {
    selectFromResult: ({ data }) => ({ alarms: data?.alarms ?? noAlarms }),
  })
  const here = alarms.flatMap((alarm) => {
    const signal = signals.find(({ id }) => id === alarm.signalId)
    const isAsked = alarm.state === 'unacknowledged' || alarm.state === 'acknowledged'
    return signal && isAsked && alarm.causedBy === null ? [{ alarm, signal }] : []
  })
  return here.map(({ alarm, signal }) => {
    const says = `Alarm: ${titleOf(alarm, signal)}, ${stateWords[alarm.state]}`
    return (
      <Link
        key={alarm.id}
        to={`/guard/${alarm.id}`}
        aria-label={says}
        title={says}
        data-alarm-here={alarm.id}
      >
        <AlarmSign alarm={alarm} />
      </Link>
    )
  })
}
