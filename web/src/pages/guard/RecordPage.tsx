import type { ResponseOf, routes } from '@jaunty-sparrow/contract'
import { readAlarmAddress } from '@jaunty-sparrow/core/alarm'
import { Link } from 'react-router'
import { AlarmSign } from '../../alarms/AlarmSign.tsx'
import { useAlarmRecordQuery } from '../../alarms/alarmsApi.ts'
import { isWhat, priorityWords } from '../../alarms/alarmWords.ts'
import { problemText } from '../../api/problemText.ts'
import { Notice } from '../../design/Notice.tsx'
import { Skeleton } from '../../design/Skeleton.tsx'
import { roughLength } from '../../rules/ruleWords.ts'
import { GuardTabs } from './GuardTabs.tsx'
import { useSignalOf } from './useSignalOf.ts'

type Row = ResponseOf<typeof routes.getAlarmRecord>[number]

/** So many days are looked back over. */
const days = 30
/** Raised more often than this in that time, an alarm is no news any more. */
const tooOften = days
/** Whoever built in some is not asked to see those that never were. */
const isWorthALine = ({ id, raised, late }: Row) =>
  raised > 0 || late > 0 || readAlarmAddress(id)?.of === 'signal'

/** How well all alarms do: those that are raised most often first, as they are the ones to be put right. */
export function RecordPage() {
  const { data, error } = useAlarmRecordQuery(days)
  const signalOf = useSignalOf()
  const rows = (data ?? []).filter(isWorthALine).sort((a, b) => b.raised - a.raised || b.seconds - a.seconds)
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-5">
      <GuardTabs />
      <header className="grid gap-1">
        <h1 className="text-3xl">How the alarms do</h1>
        <p className="max-w-prose text-ink-soft">
          In the last {days} days, those raised most often first. One that is raised every day tells nobody
          anything: move its limit, widen its deadband, or let it wait.
        </p>
      </header>
      {error && <Notice tone="trouble" title={problemText(error)} />}
      {!data && !error && <Skeleton className="h-60" />}
      {data && rows.length === 0 && (
        <p className="max-w-prose text-ink-soft">
          No alarm is stated yet. State one on the page of a device, at the signal it is about; how often it
          is raised stands here then.
        </p>
      )}
      {rows.length > 0 && (
        <div className="overflow-x-auto">
          <table className="w-full text-left text-sm">
            <thead className="border-b border-ink text-ink-soft">
              <tr>
                <th className="py-2 pr-4 font-normal">Alarm</th>
                <th className="py-2 pr-4 text-right font-normal">raised</th>
                <th className="py-2 pr-4 text-right font-normal">within a minute over</th>
                <th className="py-2 pr-4 text-right font-normal">learned late</th>
                <th className="py-2 pr-4 text-right font-normal">in all</th>
                <th className="py-2 text-right font-normal">seen after</th>
              </tr>
            </thead>
            <tbody className="divide-y divide-rule">
              {rows.map((row) => (
                <tr key={row.id} data-record={row.id}>
                  <td className="py-2 pr-4">
                    <span className="flex items-center gap-2">
                      <AlarmSign alarm={row} />
                      <Link
                        to={`/guard/${row.id}`}
                        className="font-semibold hover:text-chestnut hover:underline"
                      >
                        {row.subject}: {isWhat(row.alarm, signalOf(idOf(row))?.signal)}
                      </Link>
                      <span className="text-ink-soft">{priorityWords[row.alarm.priority]}</span>
                    </span>
                  </td>
                  <td
                    className={`py-2 pr-4 text-right tabular-nums ${row.raised > tooOften ? 'font-semibold text-trouble' : ''}`}
                  >
                    {row.raised}
                    {row.raised > tooOften && <span className="block text-xs">too often</span>}
                  </td>
                  <td className="py-2 pr-4 text-right tabular-nums">{row.fleeting || ''}</td>
                  <td className="py-2 pr-4 text-right tabular-nums">{row.late || ''}</td>
                  <td className="py-2 pr-4 text-right tabular-nums">
                    {row.seconds > 0 ? roughLength(row.seconds) : ''}
                  </td>
                  <td className="py-2 text-right tabular-nums">
                    {row.medianToWord === null ? '' : roughLength(row.medianToWord)}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </div>
  )
}

const idOf = ({ id }: Row): number | null => {
  const address = readAlarmAddress(id)
  return address?.of === 'signal' ? address.signal : null
}
