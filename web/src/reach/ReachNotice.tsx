import { describeAge } from '@jaunty-sparrow/core/time'
import { Notice } from '../design/Notice.tsx'
import { useNow } from '../time/clock.ts'
import { useReachQuery } from './reachApi.ts'

/** Says plainly when no board can reach the server, and what to do; else when another machine last did. */
export function ReachNotice() {
  const { data: reach } = useReachQuery(undefined, { pollingInterval: 10_000, skipPollingIfUnfocused: true })
  const now = useNow()
  if (!reach) return null
  if (reach.isLocalOnly) {
    return (
      <Notice tone="trouble" title="No board can reach this server yet">
        It listens to this machine only: open it to the network with{' '}
        <code className="font-mono text-ink select-all">HOST=0.0.0.0 npm start</code>. What is sent from this
        machine arrives.
      </Notice>
    )
  }
  return (
    <p className="text-sm text-ink-soft">
      Boards reach it at <code className="font-mono text-ink">{reach.devices.url}</code>;{' '}
      {reach.elsewhereAt === null
        ? 'no other machine has done so since it started.'
        : `another machine did ${describeAge(Math.max(0, now - reach.elsewhereAt))}.`}
    </p>
  )
}
