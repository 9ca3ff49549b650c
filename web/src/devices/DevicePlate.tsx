import type { Device, Signal, Trace } from '@jaunty-sparrow/contract'
import { Link } from 'react-router'
import { Sparkline } from '../signals/Sparkline.tsx'
import { traceSpan, useTracesQuery } from '../signals/signalsApi.ts'
import { storedEvery } from '../signals/storedEvery.ts'
import { gapOf } from '../signals/tracePath.ts'
import { summarize } from '../signals/traceSummary.ts'
import { Value } from '../signals/Value.tsx'
import { useNow } from '../time/clock.ts'
import { Presence, presenceOf } from './Presence.tsx'

/** A device among others: what it says now, and where that came from in the last hour. */
export function DevicePlate({ device }: { device: Device }) {
  const shown = device.signals.filter(({ state }) => state === 'accepted')
  const suggested = device.signals.filter(({ state }) => state === 'suggested')
  return (
    <article
      className="grid content-start gap-3 rounded-lg border border-rule bg-sheet p-4 shadow-sheet"
      aria-label={device.name}
    >
      <header className="flex flex-wrap items-baseline justify-between gap-x-4 gap-y-1">
        <h3 className="text-lg leading-tight">
          <Link to={`/devices/${device.address}`} className="hover:text-chestnut">
            {device.name}
          </Link>
        </h3>
        <Presence device={device} />
      </header>
      {shown.length > 0 && <SignalRows device={device} signals={shown} />}
      {suggested.length > 0 && (
        <Link
          to={`/devices/${device.address}`}
          className="text-sm font-semibold text-chestnut hover:underline"
        >
          {suggested.length === 1
            ? 'One suggested signal waits'
            : `${suggested.length} suggested signals wait`}{' '}
          for you
        </Link>
      )}
      {device.signals.length === 0 && (
        <p className="text-sm text-ink-soft">
          Its values will appear here.{' '}
          <Link to={`/devices/${device.address}`} className="font-semibold text-chestnut hover:underline">
            Send a first message
          </Link>
        </p>
      )}
    </article>
  )
}

const noPoints: Trace['points'] = []

const columns = 120
/** What a pixel column hides is no silence, ms. */
const hidden = (2 * traceSpan) / columns

function SignalRows({ device, signals }: { device: Device; signals: readonly Signal[] }) {
  const { data: traces } = useTracesQuery({ signals: signals.map(({ id }) => id), columns })
  const now = useNow()
  const to = Math.floor(now / 15_000) * 15_000 + 15_000
  const late = presenceOf(device, now) === 'late'
  return (
    <ul className="divide-y divide-rule border-t border-rule">
      {signals.map((signal) => {
        const trace = traces?.find((candidate) => candidate.signal === signal.id)
        return (
          <li
            key={signal.id}
            className="grid grid-cols-[1fr_5.5rem_minmax(6.5rem,auto)] items-center gap-3 py-1.5"
          >
            <span className="min-w-0 truncate text-sm">{signal.name}</span>
            <Sparkline
              points={trace?.points ?? noPoints}
              from={to - traceSpan}
              to={to}
              gap={Math.max(hidden, gapOf(storedEvery(signal, device.cadence?.seconds ?? null)))}
              stepped={signal.kind === 'switch'}
            />
            <span className={`text-right ${late ? 'text-ink-soft' : ''}`}>
              <Value signal={signal} decimals={summarize(trace)?.decimals} />
            </span>
          </li>
        )
      })}
    </ul>
  )
}
