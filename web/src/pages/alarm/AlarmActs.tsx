import type { AlarmAct, Signal } from '@jaunty-sparrow/contract'
import { valueWords } from '@jaunty-sparrow/core/alarm'
import { useAlarmActsQuery } from '../../alarms/alarmsApi.ts'
import { stateWords } from '../../alarms/alarmWords.ts'
import { dateFormat } from '../../language/dateFormat.ts'

const moment = dateFormat({ dateStyle: 'medium', timeStyle: 'medium' })
const moves: Readonly<Record<string, string>> = {
  raise: 'it was so',
  return: 'it was over',
  late: 'it had been so, which was learned late',
  suppress: 'suppressed by design',
  release: 'suppressed no more',
  acknowledge: 'sees to it',
  reset: 'reset it',
  shelve: 'let it rest',
  wake: 'awake again',
  'take-out': 'took it out of service',
  'return-to-service': 'returned it to service',
}

/** What happened to an alarm, the newest first. */
export function AlarmActs({
  alarmId,
  signal,
}: {
  readonly alarmId: string
  readonly signal: Signal | undefined
}) {
  const { data: acts } = useAlarmActsQuery(alarmId)
  return (
    <section aria-labelledby="acts" className="grid gap-2 border-t border-ink pt-3">
      <h2 id="acts" className="text-lg">
        What happened
      </h2>
      {acts?.length === 0 && (
        <p className="text-ink-soft">
          Nothing yet. When it is raised, by whom it was seen and when it was over stands here.
        </p>
      )}
      <ul className="divide-y divide-rule border-y border-rule text-sm empty:hidden">
        {acts?.map((act) => (
          <li key={act.id} className="grid gap-x-4 gap-y-0.5 py-2 sm:grid-cols-[12rem_1fr_14rem]">
            <span className="text-ink-soft">{moment.format(act.at)}</span>
            <span>
              <strong>{says(act)}</strong>
              <span className="text-ink-soft">{details(act, signal)}</span>
            </span>
            <span className="text-ink-soft">{stateWords[act.state]}</span>
          </li>
        ))}
      </ul>
    </section>
  )
}

const says = ({ move, person }: AlarmAct): string =>
  [person, moves[move] ?? move].filter((part) => part !== null).join(' ')

function details({ value, word, until }: AlarmAct, signal: Signal | undefined): string {
  const parts = [
    valueWords(value, null, signal),
    word === '' ? '' : `“${word}”`,
    until === null ? '' : `until ${moment.format(until)}`,
  ].filter((part) => part !== '')
  return parts.length === 0 ? '' : `, ${parts.join(', ')}`
}
