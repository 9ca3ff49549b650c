import type { StandingAlarm } from '@jaunty-sparrow/contract'
import groupBy from 'lodash-es/groupBy.js'

/** An alarm with those that it explains. */
export interface AlarmGroup {
  readonly alarm: StandingAlarm
  readonly explains: readonly StandingAlarm[]
}

/** One cause is one alarm: those that another one explains stand with that, in the order in which they are told. */
export function alarmGroups(alarms: readonly StandingAlarm[]): AlarmGroup[] {
  const known = new Set(alarms.map(({ id }) => id))
  const explained = groupBy(
    alarms.filter(({ causedBy }) => causedBy !== null && known.has(causedBy)),
    ({ causedBy }) => causedBy,
  )
  return alarms.flatMap((alarm) =>
    alarm.causedBy !== null && known.has(alarm.causedBy)
      ? []
      : [{ alarm, explains: explained[alarm.id] ?? [] }],
  )
}
