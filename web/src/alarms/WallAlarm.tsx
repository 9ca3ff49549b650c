import type { Device } from '@jaunty-sparrow/contract'
import { AlarmSign } from './AlarmSign.tsx'
import { useAlarmsQuery } from './alarmsApi.ts'
import { saysOf, titleOf } from './alarmWords.ts'

interface WallAlarmProps {
  readonly siteId: number
  readonly devices: readonly Device[]
}

/** What hangs on the wall of alarms that wait for a word: the first of them with what to do, and how many more there are. */
export function WallAlarm({ siteId, devices }: WallAlarmProps) {
  const { data } = useAlarmsQuery()
  const waiting =
    data?.alarms.filter(
      (alarm) => alarm.state === 'unacknowledged' && alarm.siteId === siteId && alarm.causedBy === null,
    ) ?? []
  const [first] = waiting
  if (!first) return data?.triedWalls.includes(siteId) ? <WallTest /> : null
  const signal = devices.flatMap(({ signals }) => signals).find(({ id }) => id === first.signalId)
  const details = [saysOf(first, signal), first.alarm.response].filter((part) => part !== '')
  return (
    <span role="status" data-wall-alarm={waiting.length} className="flex min-w-0 items-center gap-1.5">
      <AlarmSign alarm={first} className="size-3" />
      <strong className="max-w-full shrink-0 truncate">{titleOf(first, signal)}</strong>
      <span className="min-w-0 shrink-[99] truncate text-ink-soft">{details.join(' · ')}</span>
      {waiting.length > 1 && <strong className="whitespace-nowrap">and {waiting.length - 1} more</strong>}
    </span>
  )
}

/** Where nothing waits, a test hangs in the same place. */
const WallTest = () => (
  <span role="status" data-wall-alarm="test" className="flex min-w-0 items-center gap-1.5">
    <strong className="whitespace-nowrap">This is a test</strong>
    <span className="min-w-0 truncate text-ink-soft">an alarm would stand here, with what to do</span>
  </span>
)
