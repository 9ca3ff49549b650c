import type { Device, Signal } from '@jaunty-sparrow/contract'
import { phoneOrder, type ResolvedChapter } from '@jaunty-sparrow/core/dashboard'
import { flowLayout, forms } from '@jaunty-sparrow/core/layout'
import { type SpanName, spanNames } from '@jaunty-sparrow/drawings/instrument'
import { instrumentOf, settingsOf } from '@jaunty-sparrow/drawings/registry'
import { type ReactNode, useMemo } from 'react'
import { Link } from 'react-router'
import { DevicePresence } from '../devices/Presence.tsx'
import { InstrumentFigure, type PageParts, titleOf } from '../instruments/InstrumentFigure.tsx'
import { useChapterTraces } from '../instruments/useChapterTraces.ts'
import type { MeasuredForm } from '../instruments/useForm.ts'
import { isDrawn } from '../signals/isDrawn.ts'
import type { EditParts } from './editParts.ts'
import type { ShownDevice } from './shownDevice.ts'

/** Between two instruments, px. */
const between = 24

interface ChapterViewProps {
  readonly resolved: ResolvedChapter<Signal>
  readonly device: ShownDevice | undefined
  readonly page: PageParts
  readonly measured: MeasuredForm
  readonly edit: EditParts | undefined
}

/** A chapter: its title over a ruled line, and its instruments in rows that fill by themselves. */
export function ChapterView({ resolved, device, page, measured: { form, width }, edit }: ChapterViewProps) {
  const { chapter, title } = resolved
  const instruments = useMemo(() => {
    if (form !== forms.phone || chapter.phone === null) return resolved.instruments
    const order = phoneOrder(chapter).map(({ id }) => id)
    return [...resolved.instruments].sort(
      (one, other) => order.indexOf(one.instrument.id) - order.indexOf(other.instrument.id),
    )
  }, [form, chapter, resolved.instruments])
  const wanted = useMemo(() => {
    const spans: Record<SpanName, number[]> = { hour: [], day: [], week: [], month: [] }
    for (const { instrument, signals } of instruments) {
      const kind = instrumentOf(instrument.kind)
      const span = kind?.needs(settingsOf(kind, instrument.settings[kind.kind])).span
      if (span) spans[span].push(...signals.filter(isDrawn).map(({ id }) => id))
    }
    for (const span of spanNames) spans[span] = [...new Set(spans[span])]
    return spans
  }, [instruments])
  const traces = useChapterTraces(wanted, page.time.moment, page.length)
  const placed = flowLayout(
    instruments.map(({ key, instrument }) => ({ id: key, importance: instrument.importance })),
    form,
  )
  const column = (width + between) / form.columns
  const suggested = device && !page.isShared ? suggestedOf(device) : 0
  return (
    <article
      className="grid [contain-intrinsic-block-size:auto_13rem] [content-visibility:auto] border-t border-ink pt-2 pb-5"
      aria-label={title || 'Chapter'}
    >
      <header className="flex min-h-7 flex-wrap items-baseline justify-between gap-x-4">
        <h3 className="text-lg leading-tight">
          {device && !page.isShared ? (
            <Link to={`/devices/${device.address}`} className="hover:text-chestnut">
              {title}
            </Link>
          ) : (
            title
          )}
        </h3>
        {edit?.ofChapter(chapter.id) ??
          (device?.presence !== undefined && page.time.moment === undefined && (
            <DevicePresence device={device as Device} />
          ))}
      </header>
      <div
        className="grid"
        style={{ gridTemplateColumns: `repeat(${form.columns}, minmax(0, 1fr))`, columnGap: between }}
      >
        {placed.map(({ id, row, column: at, width: columns }) => {
          const there = instruments.find(({ key }) => key === id)
          if (!there) return null
          const { instrument, signals } = there
          // Of like parts the first stands for all that stand beside it.
          const own =
            instruments.find((each) => each.instrument.id === instrument.id) === there ? edit : undefined
          const name = titleOf(instrument.title, signals, instrumentOf(instrument.kind)?.name ?? '')
          const figure: ReactNode = (
            <InstrumentFigure
              resolved={there}
              traces={traces}
              page={page}
              width={Math.floor(column * columns - between)}
              controls={own?.ofInstrument(instrument.id, name, chapter.id)}
            />
          )
          return (
            <div
              key={id}
              data-cell
              className="min-w-0"
              style={{ gridRow: row + 1, gridColumn: `${at + 1} / span ${columns}` }}
            >
              {own ? own.around(instrument.id, chapter.id, figure) : figure}
            </div>
          )
        })}
      </div>
      {instruments.length === 0 && (
        <p className="py-2 text-sm text-ink-soft">
          {device ? 'Its values will appear here. ' : 'Instruments will stand here. '}
          {device && !page.isShared && (
            <Link to={`/devices/${device.address}`} className="font-semibold text-chestnut hover:underline">
              Send a first message
            </Link>
          )}
        </p>
      )}
      {device && suggested > 0 && (
        <Link
          to={`/devices/${device.address}`}
          className="text-sm font-semibold text-chestnut hover:underline"
        >
          {suggested === 1 ? 'One suggested signal waits' : `${suggested} suggested signals wait`} for you
        </Link>
      )}
    </article>
  )
}

const suggestedOf = ({ signals }: ShownDevice): number =>
  signals.filter(({ state, isFormer }) => state === 'suggested' && !isFormer).length
