import type { Signal, StandingAlarm } from '@jaunty-sparrow/contract'
import { alarmTitle, occasionWords, valueWords } from '@jaunty-sparrow/core/alarm'
import type { Alarm, Priority } from '@jaunty-sparrow/core/signal'

export const priorityWords: Readonly<Record<Priority, string>> = {
  urgent: 'urgent',
  important: 'important',
  minor: 'minor',
}

export const stateWords: Readonly<Record<StandingAlarm['state'], string>> = {
  normal: 'at rest',
  unacknowledged: 'waits for a word',
  acknowledged: 'seen, goes on',
  returned: 'over, nobody has seen it',
  latched: 'over and seen, waits to be reset',
  shelved: 'rests',
  suppressed: 'suppressed by design',
  'out-of-service': 'out of service',
}

/** What is the case, in a word or two: *too low*. */
export const isWhat = (alarm: Pick<Alarm, 'name' | 'occasion'>, signal: Signal | undefined): string =>
  alarm.name === '' ? occasionWords(alarm.occasion, signal) : alarm.name

export const titleOf = ({ subject, alarm }: StandingAlarm, signal: Signal | undefined): string =>
  alarmTitle(subject, alarm, signal)

/** The value that raised it, the worst since, and its limit. */
export function saysOf({ value, worst, limit, isActive }: StandingAlarm, signal: Signal | undefined): string {
  const words = valueWords(isActive ? value : (worst ?? value), limit, signal)
  return words === '' || isActive ? words : `was ${words}`
}
