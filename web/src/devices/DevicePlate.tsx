import type { Device, Signal, Trace } from '@jaunty-sparrow/contract'
import { Link } from 'react-router'
import { signalTitle } from '../language/signalTitle.ts'
import { PresenceWord } from '../live/PresenceWord.tsx'
import { useSignalPresence } from '../live/useLive.ts'
import { gapOf } from '../signals/gapOf.ts'
import { Sparkline } from '../signals/Sparkline.tsx'
import { secondsOf, storedEvery } from '../signals/storedEvery.ts'
import { summarize } from '../signals/traceSummary.ts'
import { useTraces } from '../signals/useTraces.ts'
import { Value } from '../signals/Value.tsx'
import { spans } from '../signals/view.ts'
import { DevicePresence } from './Presence.tsx'

/** A device among others: what it says now, and where that came from in the last hour. */
export function DevicePlate({ device }: { device: Device }) {
  const shown = device.signals.filter(({ state }) => state === 'accepted')
  const suggested = device.signals.filter(({ state }) => state === 'suggested')
  return (
    <article
      className="grid content-start gap-3 rounded-lg [contain-intrinsic-block-size:auto_16rem] [content-visibility:auto] border border-rule bg-sheet p-4 shadow-sheet"
      aria-label={device.name}
    >
      <header className="flex flex-wrap items-baseline justify-between gap-x-4 gap-y-1">
        <h3 className="text-lg leading-tight">
          <Link to={`/devices/${device.address}`} className="hover:text-chestnut">
            {device.name}
          </Link>
        </h3>
        <DevicePresence device={device} />
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
/** A word-sized picture is made anew so seldom, ms. */
const sparkBeat = 15_000
/** What a pixel column hides is no silence, ms. */
const hidden = (2 * spans.hour.length) / columns
const lastHour = { span: 'hour' } as const

function SignalRows({ device, signals }: { device: Device; signals: readonly Signal[] }) {
  const drawn = signals.filter(({ kind }) => kind === 'number' || kind === 'switch' || kind === 'choice')
  const { traces, shown } = useTraces(
    drawn.map(({ id }) => id),
    columns,
    lastHour,
    sparkBeat,
  )
  return (
    <ul className="divide-y divide-rule border-t border-rule">
      {signals.map((signal) => {
        const trace = traces?.find((candidate) => candidate.signal === signal.id)
        return (
          <li
            key={signal.id}
            className="grid grid-cols-[1fr_5.5rem_minmax(6.5rem,auto)] items-center gap-3 py-1.5"
          >
            <SignalName signal={signal} />
            <Sparkline
              points={trace?.points ?? noPoints}
              from={shown.from}
              to={shown.to}
              gap={Math.max(
                hidden,
                gapOf(storedEvery(signal, secondsOf(signal.cadence ?? device.cadence?.cadence ?? null))),
              )}
              stepped={signal.kind !== 'number'}
            />
            <span className="min-w-0 text-right">
              <Value signal={signal} decimals={summarize(trace)?.decimals} />
            </span>
          </li>
        )
      })}
    </ul>
  )
}

/** What a signal is called, and how it does where that is not as it should be. */
function SignalName({ signal }: { signal: Signal }) {
  const presence = useSignalPresence(signal)
  return (
    <span className="flex min-w-0 items-baseline gap-2 text-sm">
      <span className="truncate">{signalTitle(signal)}</span>
      {presence !== 'never' && presence !== 'asleep' && <PresenceWord presence={presence} />}
    </span>
  )
}
