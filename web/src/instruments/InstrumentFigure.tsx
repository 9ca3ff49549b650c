import type { Signal } from '@jaunty-sparrow/contract'
import type { ResolvedInstrument } from '@jaunty-sparrow/core/dashboard'
import { gapOf, secondsOf, signalTitle, storedEvery } from '@jaunty-sparrow/core/signal'
import type { RaisedAlarm } from '@jaunty-sparrow/drawings/chart'
import {
  describe,
  type Instrument,
  type Needs,
  type Shown,
  type ShownNote,
  seenAs,
  seenSignal,
  toShown,
  traceSeen,
} from '@jaunty-sparrow/drawings/instrument'
import { instrumentOf, settingsOf } from '@jaunty-sparrow/drawings/registry'
import { Ellipsis } from 'lucide-react'
import { lazy, type MouseEvent, memo, type ReactNode, Suspense, useMemo, useRef, useState } from 'react'
import { Link } from 'react-router'
import { AlarmsHere } from '../alarms/AlarmsHere.tsx'
import { useWishes } from '../commands/useWishes.ts'
import { useBeat } from '../time/clock.ts'
import type { PageTime } from '../time/pageTime.ts'
import { useTilesQuery } from './tilesApi.ts'
import type { TracesOf } from './useChapterTraces.ts'
import { useLastReadings } from './useLastReadings.ts'
import { useSignals } from './useSignals.ts'
import { useTotals } from './useTotals.ts'
import { writingIn } from './writing.ts'

const InstrumentMenu = lazy(async () => ({ default: (await import('./InstrumentMenu.tsx')).InstrumentMenu }))
const Control = lazy(async () => ({ default: (await import('../commands/Control.tsx')).Control }))
const ColourControl = lazy(async () => ({
  default: (await import('../commands/ColourControl.tsx')).ColourControl,
}))
const NoteDetail = lazy(async () => ({ default: (await import('../notes/NoteDetail.tsx')).NoteDetail }))
const ExplainSheet = lazy(async () => ({
  default: (await import('../explain/ExplainSheet.tsx')).ExplainSheet,
}))

/** What is the same for all instruments of a page. */
export interface PageParts {
  readonly timeZone: string
  readonly siteId: number
  readonly nights: readonly { readonly from: number; readonly to: number }[]
  readonly notes: readonly (ShownNote & {
    readonly person: string | null
    readonly deviceId: number | null
    readonly signalId: number | null
  })[]
  readonly commands: readonly (ShownNote & { readonly signalId: number | null })[]
  readonly alarms: readonly (RaisedAlarm & { readonly signalId: number | null })[]
  readonly time: PageTime
  /** Over which span courses are shown, ms; undefined where each instrument has its own. */
  readonly length: number | undefined
  /** Of which device a signal is. */
  readonly deviceOf: ReadonlyMap<
    number,
    {
      readonly id: number
      readonly name: string
      readonly address: string
      /** s */
      readonly cadence: number | null
      /** When it is awake again, epoch ms, where it sleeps. */
      readonly wakesAt: number | undefined
    }
  >
  /** Whether it is looked at by a link, and leads nowhere. */
  readonly isShared: boolean
}

interface InstrumentFigureProps {
  readonly resolved: ResolvedInstrument<Signal>
  readonly traces: TracesOf
  readonly page: PageParts
  /** px */
  readonly width: number
  /** What stands in the place of its menu while the page is edited. */
  readonly controls?: ReactNode
}

/** An instrument on a page: what it shows, what it is called, and what can be done with it. */
export const InstrumentFigure = memo(function InstrumentFigure(props: InstrumentFigureProps) {
  const { instrument } = props.resolved
  const kind = instrumentOf(instrument.kind)
  const settings = useMemo(
    () => (kind ? settingsOf(kind, instrument.settings[kind.kind]) : {}),
    [kind, instrument.settings],
  )
  const needs = useMemo(() => kind?.needs(settings) ?? {}, [kind, settings])
  if (!kind) return <Unknown kind={instrument.kind} />
  const drawn = { ...props, kind, settings, needs }
  return needs.totals || needs.readings || needs.tiles || needs.commands ? (
    <FigureOfMore {...drawn} />
  ) : (
    <Figure {...drawn} />
  )
})

const none: readonly Signal[] = []

interface FigureProps extends InstrumentFigureProps {
  readonly kind: Instrument
  readonly settings: Record<string, unknown>
  readonly needs: Needs
  readonly totals?: ReturnType<typeof useTotals>
  readonly readings?: ReturnType<typeof useLastReadings>
  readonly tiles?: Shown['tiles']
  readonly wishes?: ReturnType<typeof useWishes>
}

/** One that is drawn from more than what comes by itself; the others need not look whether it is there with each value. */
function FigureOfMore(props: FigureProps) {
  const { resolved, page, needs } = props
  const { moment } = page.time
  const totals = useTotals(resolved.signals, needs.totals, moment, resolved.instrument.unit)
  const readings = useLastReadings(resolved.signals, needs.readings, moment, page.length)
  const { data: tiles = null } = useTilesQuery(undefined, { skip: needs.tiles === undefined })
  const wishes = useWishes(needs.commands && moment === undefined ? resolved.signals : none)
  return <Figure {...props} totals={totals} readings={readings} tiles={tiles} wishes={wishes} />
}

function Figure({
  resolved: { instrument, signals, missing },
  traces,
  page,
  width,
  controls,
  kind,
  settings,
  needs,
  totals,
  readings,
  tiles = null,
  wishes,
}: FigureProps) {
  const { timeZone, time, deviceOf, isShared } = page
  const live = useSignals(signals)
  const [unit, setUnit] = useState<string | null>(null)
  const own = unit ?? instrument.unit
  const drawn = needs.span === undefined ? undefined : traces[needs.span]
  // Ages are told anew every so often, also where nothing comes.
  const beat = useBeat(5000)
  const svg = useRef<SVGSVGElement>(null)
  const [explained, setExplained] = useState<number>()
  const [noteId, setNote] = useState<number>()
  const [isMenuOpen, setMenuOpen] = useState(false)
  const seen = useMemo(
    () => signals.map((signal) => seenSignal(time.asThen(signal), seenAs(signal, own))),
    [signals, time, own],
  )
  const courses = useMemo(
    () =>
      new Map(
        signals.map((signal) => {
          const trace = drawn?.traces?.find((each) => each.signal === signal.id)
          const cadence = secondsOf(signal.cadence) ?? deviceOf.get(signal.id)?.cadence ?? null
          const gap = Math.max(drawn?.hidden ?? 0, gapOf(storedEvery(signal, cadence)))
          return [signal.id, trace ? traceSeen(trace, seenAs(signal, own), gap) : null]
        }),
      ),
    [signals, drawn?.traces, drawn?.hidden, own, deviceOf],
  )
  const now = time.moment ?? Math.max(beat, ...live.map(({ latest }) => latest?.at ?? 0))
  const shown: Shown = {
    settings,
    signals: seen.map((signal, place) =>
      toShown(signal, {
        device: deviceOf.get(signal.id)?.name ?? '',
        latest: time.moment === undefined ? (live[place]?.latest ?? null) : time.latest(signal.id),
        presence: time.moment === undefined ? (live[place]?.presence ?? 'never') : 'on-time',
        trace: courses.get(signal.id) ?? null,
        asked: wishes?.get(signal.id) ?? null,
        readings: readings?.get(signal.id) ?? [],
        totals: totals?.get(signal.id) ?? [],
      }),
    ),
    now,
    stretch: drawn?.stretch ?? { from: now - 3_600_000, to: now },
    nights: page.nights,
    notes: page.notes.filter(
      ({ deviceId, signalId }) =>
        (deviceId === null && signalId === null) ||
        signals.some(({ id }) => id === signalId || (signalId === null && deviceOf.get(id)?.id === deviceId)),
    ),
    commands: page.commands.filter(({ signalId }) => signals.some(({ id }) => id === signalId)),
    alarms: page.alarms.filter(({ signalId }) => signals.some(({ id }) => id === signalId)),
    timeZone,
    tiles,
    writing: writingIn(timeZone),
    width,
  }
  const title = titleOf(instrument.title, signals, kind.name)
  const [first] = signals
  const device = first && deviceOf.get(first.id)
  const height = kind.height(shown)
  const explain = (event: MouseEvent) => {
    const value = (event.target as Element).closest('[data-value]')?.getAttribute('data-value')
    if (value && !isShared) setExplained(Number(value))
    const note = (event.target as Element).closest('[data-note]')?.getAttribute('data-note')
    if (note && !isShared) setNote(Number(note))
  }
  const note = page.notes.find(({ id }) => id === noteId)
  const explainedSignal = signals.find(({ id }) => id === explained)
  const explainedAt = shown.signals.find(({ id }) => id === explained)?.latest?.at
  return (
    <figure aria-label={title} data-kind={kind.kind} className="group relative min-w-0 pt-2 pb-3">
      <Caption
        title={title}
        // What is edited leads nowhere: a slip would lead away from it.
        to={
          controls ? null : (instrument.link ?? (device && !isShared ? `/devices/${device.address}` : null))
        }
        controls={controls}
        guarded={isShared || time.moment !== undefined ? undefined : signals}
        onMore={isShared ? undefined : setMenuOpen}
      />
      {/* biome-ignore lint/a11y/useKeyWithClickEvents: the menu explains each value to those who have no pointer */}
      <svg
        ref={svg}
        width={width}
        height={height}
        role="img"
        aria-label={describe(shown) || title}
        className={`block max-w-full overflow-visible ${isShared ? '' : '[&_[data-note]]:cursor-pointer [&_[data-value]]:cursor-help'}`}
        onClick={explain}
      >
        <kind.Drawing {...shown} />
      </svg>
      {needs.commands && first && !controls && !isShared && time.moment === undefined && (
        <Suspense>
          {signals.length > 1 ? (
            <ColourControl signals={signals} siteId={page.siteId} />
          ) : (
            <Control signal={first} siteId={page.siteId} isCompact wakesAt={device?.wakesAt} />
          )}
        </Suspense>
      )}
      {missing > 0 && (
        <p className="text-sm text-ink-soft">
          {missing === 1 ? 'A signal that stood here is' : `${missing} signals that stood here are`} no longer
          there, or not yours to see.
        </p>
      )}
      <Suspense>
        {isMenuOpen && (
          <InstrumentMenu
            title={title}
            signals={signals}
            shown={shown}
            svg={svg.current}
            address={device?.address}
            unit={own}
            onUnit={setUnit}
            onExplain={setExplained}
            onNote={setNote}
            onClose={() => setMenuOpen(false)}
          />
        )}
        {note && (
          <NoteDetail
            note={note}
            timeZone={timeZone}
            siteId={page.siteId}
            onClose={() => setNote(undefined)}
          />
        )}
        {explainedSignal && explainedAt !== undefined && (
          <ExplainSheet
            signal={explainedSignal}
            at={explainedAt}
            timeZone={timeZone}
            onClose={() => setExplained(undefined)}
          />
        )}
      </Suspense>
    </figure>
  )
}

/** What stands above an instrument: what somebody called it, or what its signals are called. */
export function titleOf(stated: string | null, signals: readonly Signal[], kind: string): string {
  if (stated !== null) return stated
  const titles = [...new Set(signals.map(signalTitle))]
  return titles.length > 0 && titles.length <= 3 ? titles.join(', ') : kind
}

interface CaptionProps {
  readonly title: string
  readonly to: string | null
  readonly controls: ReactNode
  /** The signals whose alarms are marked here. */
  readonly guarded: readonly Signal[] | undefined
  readonly onMore: ((isOpen: true) => void) | undefined
}

/** What an instrument is called, and the way to what can be done with it; it stays while values come. */
const Caption = memo(({ title, to, controls, guarded, onMore }: CaptionProps) => (
  <figcaption className="flex min-h-6 min-w-0 items-center gap-2 text-sm text-ink-soft">
    {to === null ? (
      <span className="truncate">{title}</span>
    ) : to.startsWith('/') ? (
      <Link to={to} className="truncate hover:text-chestnut hover:underline">
        {title}
      </Link>
    ) : (
      <a href={to} rel="noreferrer" className="truncate hover:text-chestnut hover:underline">
        {title}
      </a>
    )}
    {guarded && <AlarmsHere signals={guarded} />}
    {controls ??
      (onMore && (
        <button
          type="button"
          aria-label={`More of ${title}`}
          aria-haspopup="menu"
          className="ml-auto rounded p-1 text-chestnut opacity-0 group-focus-within:opacity-100 group-hover:opacity-100 hover:bg-well pointer-coarse:opacity-60"
          onClick={() => onMore(true)}
        >
          <Ellipsis aria-hidden="true" className="size-4" />
        </button>
      ))}
  </figcaption>
))

const Unknown = ({ kind }: { readonly kind: string }) => (
  <p className="py-3 text-sm text-ink-soft">
    This needs the instrument "{kind}", which a newer version of this program has.
  </p>
)
