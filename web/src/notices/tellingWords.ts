import type { Telling } from '@jaunty-sparrow/core/notice'
import { lengthWords } from '@jaunty-sparrow/core/time'
import { dayNames } from '../rules/ruleWords.ts'

const time = (minutes: number): string =>
  `${String(Math.floor(minutes / 60)).padStart(2, '0')}:${String(minutes % 60).padStart(2, '0')}`

/** Of what somebody is told, and when, as a sentence goes on. */
export function tellingWords({ priorities, days, from, to, wait }: Telling): string {
  const what = priorities.length === 3 ? 'every alarm' : `what is ${priorities.join(' or ')}`
  const when = wait === 0 ? 'at once' : `when nobody has seen it for ${lengthWords(wait)}`
  const hours = from === to ? '' : ` from ${time(from)} to ${time(to)}`
  const on = days.length === 7 ? '' : ` on ${daysWords(days)}`
  return `${what}, ${when}${on}${hours}`
}

function daysWords(days: readonly number[]): string {
  if (days.join() === '1,2,3,4,5') return 'weekdays'
  if (days.join() === '6,7') return 'weekends'
  return days.map((day) => dayNames[day - 1]).join(', ')
}
