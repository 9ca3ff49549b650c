import type { Device } from '@jaunty-sparrow/contract'
import { proposeInstrument } from '@jaunty-sparrow/core/instrument'
import { flowLayout } from '@jaunty-sparrow/core/layout'
import { Link } from 'react-router'
import { DevicePresence } from '../devices/Presence.tsx'
import { gapOf } from '../signals/gapOf.ts'
import { inUse } from '../signals/inUse.ts'
import { isDrawn } from '../signals/isDrawn.ts'
import { secondsOf, storedEvery } from '../signals/storedEvery.ts'
import { useTraces } from '../signals/useTraces.ts'
import { spans } from '../signals/view.ts'
import { SignalInstrument } from './SignalInstrument.tsx'
import type { MeasuredForm } from './useForm.ts'

const columns = 120
/** A picture in the size of a word is made anew so seldom, ms. */
const beat = 15_000
/** What a pixel column hides is no silence, ms. */
const hidden = (2 * spans.hour.length) / columns
const lastHour = { span: 'hour' } as const
/** Between two instruments, px. */
const between = 20

interface DeviceChapterProps {
  readonly device: Device
  readonly timeZone: string
  readonly measured: MeasuredForm
}

/** A device as a chapter: its signals in fitting instruments, in their order. */
export function DeviceChapter({ device, timeZone, measured: { form, width } }: DeviceChapterProps) {
  const signals = inUse(device)
  const { traces, shown } = useTraces(
    signals.filter(isDrawn).map(({ id }) => id),
    columns,
    lastHour,
    beat,
  )
  const to = `/devices/${device.address}`
  const placed = flowLayout(
    signals.map((signal) => ({ id: String(signal.id), importance: proposeInstrument(signal).importance })),
    form,
  )
  const suggested = device.signals.filter(({ state, isFormer }) => state === 'suggested' && !isFormer)
  const column = (width + between) / form.columns
  return (
    <article
      className="grid [contain-intrinsic-block-size:auto_13rem] [content-visibility:auto] border-t border-ink pt-2 pb-5"
      aria-label={device.name}
    >
      <header className="flex flex-wrap items-baseline justify-between gap-x-4">
        <h3 className="text-lg leading-tight">
          <Link to={to} className="hover:text-chestnut">
            {device.name}
          </Link>
        </h3>
        <DevicePresence device={device} />
      </header>
      <div
        className="grid"
        style={{
          gridTemplateColumns: `repeat(${form.columns}, minmax(0, 1fr))`,
          columnGap: between,
        }}
      >
        {width > 0 &&
          placed.map((place) => {
            const signal = signals.find(({ id }) => String(id) === place.id)
            return (
              signal && (
                <div
                  key={place.id}
                  className="min-w-0"
                  style={{
                    gridRow: place.row + 1,
                    gridColumn: `${place.column + 1} / span ${place.width}`,
                  }}
                >
                  <SignalInstrument
                    signal={signal}
                    to={to}
                    trace={traces?.find((trace) => trace.signal === signal.id)}
                    shown={shown}
                    gap={Math.max(
                      hidden,
                      gapOf(
                        storedEvery(signal, secondsOf(signal.cadence ?? device.cadence?.cadence ?? null)),
                      ),
                    )}
                    timeZone={timeZone}
                    width={column * place.width - between}
                  />
                </div>
              )
            )
          })}
      </div>
      {suggested.length > 0 && (
        <Link to={to} className="text-sm font-semibold text-chestnut hover:underline">
          {suggested.length === 1
            ? 'One suggested signal waits'
            : `${suggested.length} suggested signals wait`}{' '}
          for you
        </Link>
      )}
      {device.signals.length === 0 && (
        <p className="text-sm text-ink-soft">
          Its values will appear here.{' '}
          <Link to={to} className="font-semibold text-chestnut hover:underline">
            Send a first message
          </Link>
        </p>
      )}
    </article>
  )
}
