import { useAlarmsQuery } from './alarmsApi.ts'

/** How many alarms wait for a word; nothing where none does. */
export function AlarmCount({ className = '' }: { readonly className?: string }) {
  const { data } = useAlarmsQuery()
  const waiting = data ? data.counts.unacknowledged + data.counts.returned : 0
  if (waiting === 0) return null
  return (
    <span
      className={`font-semibold tabular-nums ${data?.counts.unacknowledged ? 'text-trouble' : 'text-ink-soft'} ${className}`}
      data-alarm-count={waiting}
    >
      <span aria-hidden="true">▲ </span>
      {waiting}
      <span className="sr-only"> {waiting === 1 ? 'alarm waits' : 'alarms wait'} for a word</span>
    </span>
  )
}
