import { mostStanding, type StandingAlarm } from '@jaunty-sparrow/contract'
import { type KeyboardEvent, useRef, useState } from 'react'
import { useNavigate } from 'react-router'
import { useAlarmsQuery, useMoveAlarmsMutation } from '../../alarms/alarmsApi.ts'
import { type WordedMove, WordSheet } from '../../alarms/WordSheet.tsx'
import { problemText } from '../../api/problemText.ts'
import { Notice } from '../../design/Notice.tsx'
import { Skeleton } from '../../design/Skeleton.tsx'
import { AlarmRow } from './AlarmRow.tsx'
import { type AlarmGroup, alarmGroups } from './alarmGroups.ts'
import { GuardTabs } from './GuardTabs.tsx'
import { momentLink } from './momentLink.ts'
import { NewAlarmButton } from './NewAlarmButton.tsx'
import { useSignalOf } from './useSignalOf.ts'

/** All alarms that are not at rest: those that wait for a word first. Worked by keyboard as by hand. */
export function GuardPage() {
  const { data, error } = useAlarmsQuery()
  const signalOf = useSignalOf()
  const navigate = useNavigate()
  const [asking, setAsking] = useState<{ readonly move: WordedMove; readonly ids: readonly string[] }>()
  const [move, { error: refused }] = useMoveAlarmsMutation()
  const list = useRef<HTMLUListElement>(null)
  const groups = alarmGroups(data?.alarms ?? [])
  const open = groups.filter(({ alarm }) => !isAside(alarm))
  const aside = groups.filter(({ alarm }) => isAside(alarm))
  const idsOf = ({ alarm, explains }: AlarmGroup) => [alarm, ...explains].map(({ id }) => id)
  const toMoment = ({ alarm }: AlarmGroup) => {
    const link = momentLink(alarm, signalOf(alarm.signalId)?.device)
    if (link !== undefined) void navigate(link)
  }
  const does = (group: AlarmGroup) => ({
    onSeen: () => void move({ alarms: idsOf(group), move: 'acknowledge' }),
    onReset: () => void move({ alarms: [group.alarm.id], move: 'reset' }),
    onWake: () => void move({ alarms: [group.alarm.id], move: 'wake' }),
    onReturn: () => void move({ alarms: [group.alarm.id], move: 'return-to-service' }),
    onAsk: (asked: WordedMove) => setAsking({ move: asked, ids: idsOf(group) }),
    onMoment: () => toMoment(group),
  })
  const press = (event: KeyboardEvent<HTMLUListElement>) => {
    const rows = [...(list.current?.querySelectorAll<HTMLElement>('[data-alarm]') ?? [])]
    const place = rows.indexOf(document.activeElement as HTMLElement)
    if (place < 0 || event.ctrlKey || event.metaKey || event.altKey) return
    const group = groups.find(({ alarm }) => alarm.id === rows[place]?.dataset.alarm)
    if (!group) return
    const { onSeen, onAsk, onMoment } = does(group)
    const act: Record<string, () => void> = {
      ArrowDown: () => rows[place + 1]?.focus(),
      ArrowUp: () => rows[place - 1]?.focus(),
      Enter: () => void navigate(`/guard/${group.alarm.id}`),
      ...(waits(group.alarm) && {
        s: () => {
          // What was seen moves down: the next one waits.
          const next = rows[place + 1] ?? rows[place - 1]
          next?.focus()
          onSeen()
        },
        w: () => onAsk('acknowledge'),
      }),
      ...(!isAside(group.alarm) && { r: () => onAsk('shelve') }),
      m: onMoment,
    }
    const chosen = act[event.key]
    if (!chosen) return
    event.preventDefault()
    chosen()
  }
  const waiting = groups.filter(({ alarm }) => waits(alarm)).length
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-5">
      <GuardTabs />
      <header className="flex flex-wrap items-baseline gap-x-4 gap-y-1">
        <h1 className="text-3xl">Alarms</h1>
        {data && (
          <p role="status" className="text-ink-soft" data-waiting={waiting}>
            {summary(waiting, open.length - waiting, aside.length)}
          </p>
        )}
        <NewAlarmButton />
      </header>
      {error && <Notice tone="trouble" title={problemText(error)} />}
      {refused && <Notice tone="trouble" title={problemText(refused)} />}
      {!data && !error && <Skeleton className="h-60" />}
      {data?.inAll === 0 && <AllQuiet />}
      <ul ref={list} className="divide-y divide-rule border-y border-rule empty:hidden" onKeyDown={press}>
        {[...open, ...aside].map((group) => (
          <AlarmRow
            key={group.alarm.id}
            group={group}
            signal={signalOf(group.alarm.signalId)?.signal}
            {...does(group)}
          />
        ))}
      </ul>
      {data && data.inAll > mostStanding && (
        <p className="text-ink-soft">
          and {data.inAll - data.alarms.length} more: those above are the first to answer.
        </p>
      )}
      {open.length > 0 && (
        <p className="hidden text-sm text-ink-soft lg:block">
          By the keyboard, on an alarm: <Key>↑</Key> <Key>↓</Key> to the others, <Key>S</Key> I see to it,{' '}
          <Key>W</Key> with a word, <Key>R</Key> let it rest, <Key>M</Key> to the moment, <Key>Enter</Key> all
          about it.
        </p>
      )}
      {asking && <WordSheet move={asking.move} alarms={asking.ids} onClose={() => setAsking(undefined)} />}
    </div>
  )
}

export const waits = ({ state }: StandingAlarm): boolean => state === 'unacknowledged' || state === 'returned'
export const isAside = ({ state }: StandingAlarm): boolean =>
  state === 'shelved' || state === 'suppressed' || state === 'out-of-service'

function summary(waiting: number, seen: number, aside: number): string {
  const parts = [
    waiting === 0
      ? 'none waits for a word'
      : waiting === 1
        ? '1 waits for a word'
        : `${waiting} wait for a word`,
    ...(seen > 0 ? [`${seen} seen`] : []),
    ...(aside > 0 ? [aside === 1 ? '1 rests' : `${aside} rest`] : []),
  ]
  return parts.join(', ')
}

const Key = ({ children }: { readonly children: string }) => (
  <kbd className="rounded border border-rule-strong px-1 font-sans text-xs">{children}</kbd>
)

const AllQuiet = () => (
  <p className="max-w-prose text-ink-soft">
    Nothing is out of the ordinary. What goes beyond a limit, falls silent or stands open too long stands here
    as soon as an alarm is stated for it: on the page of a device, at its signal.
  </p>
)
