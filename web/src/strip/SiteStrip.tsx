import type { Site } from '@jaunty-sparrow/contract'
import { timeTicks } from '@jaunty-sparrow/core/time'
import { DayStrip, stripHeight } from '@jaunty-sparrow/drawings/strip'
import { ChevronLeft, ChevronRight } from 'lucide-react'
import { type KeyboardEvent, type PointerEvent, useEffect, useMemo, useRef, useState } from 'react'
import { Link, useLocation, useMatch, useNavigate } from 'react-router'
import { isAboutTooLittle } from '../alarms/isAboutTooLittle.ts'
import { useDashboardsQuery } from '../dashboards/dashboardsApi.ts'
import { IconButton } from '../design/IconButton.tsx'
import { useWidth } from '../design/useWidth.ts'
import { useDevicesQuery } from '../devices/devicesApi.ts'
import { dateFormat } from '../language/dateFormat.ts'
import { live } from '../live/connection.ts'
import { useNotesQuery } from '../notes/notesApi.ts'
import { useLookedAt } from '../signals/useView.ts'
import { paramsOf } from '../signals/view.ts'
import { useSiteDayQuery } from '../sites/siteDayApi.ts'
import { useSitesQuery } from '../sites/sitesApi.ts'
import { serverNow, useBeat } from '../time/clock.ts'
import { useMoment } from '../time/moment.ts'
import { PlayBar } from './PlayBar.tsx'
import { useStripDay } from './useStripDay.ts'

const minute = 60_000
const dayLength = 24 * 60 * minute
/** What is opened around a moment, ms. */
const opened = 60 * minute
/** The last stroke of today grows this often, ms. */
const renewed = 10_000
/** An arrow key goes so far, ms. */
const keyStep = 5 * minute
const turnLook = '-mx-1.5 inline-grid size-8 place-items-center'
/** Room for the name of an hour, px. */
const roomForName = 84

/** The last 24 hours of the site in view along the top of the page: what came in, who dropped out, and when it was night. */
export function SiteStrip() {
  const address = useMatch('/devices/:address')?.params.address
  const dashboardId = useMatch('/dashboards/:id')?.params.id
  const { data: dashboards } = useDashboardsQuery(undefined, { skip: dashboardId === undefined })
  const page = dashboards?.find(({ id }) => String(id) === dashboardId)
  // Pages that have no past stay as they are.
  const hasMoment = useMatch('/') !== null || dashboardId !== undefined
  const { data: sites } = useSitesQuery()
  const { siteId } = useDevicesQuery(undefined, {
    selectFromResult: ({ data }) => ({
      siteId: page?.siteId ?? data?.find((device) => device.address === address)?.siteId ?? data?.[0]?.siteId,
    }),
  })
  const site = sites?.find(({ id }) => id === siteId)
  // Its room is kept, so that nothing jumps when it is there.
  return (
    <div className="h-[49px] border-b border-rule bg-paper px-4 pt-1 lg:px-8">
      {site && <Strip site={site} address={address} hasMoment={hasMoment} />}
    </div>
  )
}

interface StripProps {
  readonly site: Site
  /** Of the device whose page is open. */
  readonly address: string | undefined
  /** Whether the page that is open shows any moment of the past. */
  readonly hasMoment: boolean
}

function Strip({ site, address, hasMoment }: StripProps) {
  const navigate = useNavigate()
  const shownMoment = useMoment()
  const lookedAt = useLookedAt()
  const at = hasMoment ? shownMoment.at : undefined
  const looked = useMemo(() => (at === undefined ? lookedAt : { from: at, to: at }), [at, lookedAt])
  const { to, isToday, turn } = useStripDay(looked)
  const { data: day, refetch } = useSiteDayQuery(
    { siteId: site.id, to },
    { pollingInterval: isToday ? renewed : 0, skipPollingIfUnfocused: true },
  )
  const { data: notes } = useNotesQuery({ siteId: site.id, from: to - dayLength, to, kind: 'note' })
  const { data: commands } = useNotesQuery({ siteId: site.id, from: to - dayLength, to, kind: 'command' })
  const { data: alarms } = useNotesQuery({ siteId: site.id, from: to - dayLength, to, kind: 'alarm' })
  // The beak moves on by less than a pixel in between.
  useBeat(15_000)
  const { pathname } = useLocation()
  const [asked, setAsked] = useState<{ path: string; at: number }>()
  const [place, width] = useWidth<HTMLDivElement>()
  const [held, setHeld] = useState<number>()
  const [pointed, setPointed] = useState<number>()
  const isDragging = useRef(false)
  useEffect(() => live.onFrame((frame) => frame.kind === 'event' && void refetch()), [refetch])
  if (!day) return <div ref={place} className="h-full" />

  const present = Math.min(serverNow(), day.to)
  const moment = held ?? (looked ? (looked.from + looked.to) / 2 : present)
  const open = (at: number) => {
    if (hasMoment) return shownMoment.show(Math.min(at, serverNow()))
    // Kits, people and settings have no past: the page says so, and stays as it is.
    if (address === undefined) return setAsked({ path: pathname, at: Math.round(at) })
    const end = Math.min(Math.round(at + opened / 2), Math.round(serverNow()))
    const params = new URLSearchParams(paramsOf({ from: end - opened, to: end }))
    void navigate(`/devices/${address}?${params}`, { preventScrollReset: true })
  }
  const instantOf = ({ clientX, currentTarget }: PointerEvent): number => {
    const box = currentTarget.getBoundingClientRect()
    const share = Math.min(Math.max((clientX - box.left) / box.width, 0), 1)
    return Math.min(day.from + share * (day.to - day.from), serverNow())
  }
  const press = (event: KeyboardEvent) => {
    const step = { ArrowLeft: -keyStep, ArrowRight: keyStep }[event.key]
    if (step === undefined && event.key !== 'Enter') return
    event.preventDefault()
    if (step === undefined) open(moment)
    else setHeld(Math.min(Math.max(moment + step, day.from), serverNow()))
  }
  const told = pointed ?? held
  return (
    <div className="relative flex h-full items-start gap-1">
      <IconButton className={turnLook} name="The day before" onClick={() => turn(-1)}>
        <ChevronLeft aria-hidden="true" className="size-4" />
      </IconButton>
      <div
        ref={place}
        className="relative min-w-0 flex-1 cursor-pointer touch-pan-y select-none"
        role="slider"
        tabIndex={0}
        aria-label={`A day of ${site.name}: arrow keys choose a moment, Enter opens it`}
        aria-valuemin={day.from}
        aria-valuemax={day.to}
        aria-valuenow={Math.round(moment)}
        aria-valuetext={clock(moment, site.timeZone)}
        onKeyDown={press}
        onBlur={() => setHeld(undefined)}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId)
          isDragging.current = true
          setHeld(instantOf(event))
        }}
        onPointerMove={(event) => {
          setPointed(instantOf(event))
          if (isDragging.current) setHeld(instantOf(event))
        }}
        onPointerUp={(event) => {
          isDragging.current = false
          setHeld(undefined)
          open(instantOf(event))
        }}
        onPointerCancel={() => {
          isDragging.current = false
          setHeld(undefined)
        }}
        onPointerLeave={() => setPointed(undefined)}
      >
        {width > 0 && (
          <svg
            className="block overflow-visible"
            width={width}
            height={stripHeight}
            role="img"
            aria-label={describe(day.dropOuts.length, site.name)}
          >
            <DayStrip
              from={day.from}
              to={day.to}
              came={day.came}
              silences={day.dropOuts.map(({ at, until }) => ({ from: at, to: until ?? present }))}
              commands={(commands ?? []).map(({ at: when, says }) => ({ at: when, says }))}
              alarms={(alarms ?? []).map(({ at: when, says, alarmId }) => ({
                at: when,
                says,
                isLow: isAboutTooLittle(alarmId),
              }))}
              notes={(notes ?? []).map(({ at: when, says }) => ({ at: when, says }))}
              nights={day.nights.map(([from, to]) => ({ from, to }))}
              ticks={timeTicks(
                day.from,
                day.to,
                Math.max(2, Math.floor(width / roomForName)),
                site.timeZone,
              ).filter(({ at }) => isApart((at - day.from) / (day.to - day.from), width))}
              moment={moment}
              isLive={looked === undefined && held === undefined}
              width={width}
            />
          </svg>
        )}
        {told !== undefined && (
          <p
            className="pointer-events-none absolute top-0 z-10 -translate-x-1/2 rounded-md border border-rule bg-sheet px-2 py-0.5 text-xs whitespace-nowrap"
            style={{
              left: `clamp(3.5rem, ${((told - day.from) / (day.to - day.from)) * 100}%, 100% - 3.5rem)`,
            }}
          >
            {clock(told, site.timeZone)}
          </p>
        )}
      </div>
      {asked?.path === pathname && (
        <p
          role="status"
          className="absolute top-full right-0 z-20 rounded-md border border-rule bg-sheet px-3 py-2 text-sm"
        >
          This page has no past.{' '}
          <Link to={`/?at=${asked.at}`} className="font-semibold text-chestnut hover:underline">
            The site at {clock(asked.at, site.timeZone)}
          </Link>
        </p>
      )}
      <div className="flex min-w-5 items-center">
        {at !== undefined && <PlayBar moment={shownMoment} site={site} />}
        {!isToday && (
          <IconButton className={turnLook} name="The day after" onClick={() => turn(1)}>
            <ChevronRight aria-hidden="true" className="size-4" />
          </IconButton>
        )}
        {(looked || !isToday) && (
          <button
            type="button"
            className="min-h-8 rounded-md px-2 text-sm font-semibold text-chestnut hover:bg-well"
            onClick={() => {
              turn(Number.POSITIVE_INFINITY)
              if (at !== undefined) shownMoment.live()
              else if (looked) void navigate('?', { preventScrollReset: true })
            }}
          >
            Live
          </button>
        )}
      </div>
    </div>
  )
}

/** The names of hours at the very ends would be cut off. */
const isApart = (share: number, width: number): boolean => share * width > 14 && (1 - share) * width > 14

const clock = (at: number, timeZone: string): string =>
  dateFormat({
    timeZone,
    day: 'numeric',
    month: 'short',
    hour: '2-digit',
    minute: '2-digit',
  }).format(at)

const describe = (dropOuts: number, site: string): string =>
  dropOuts === 0
    ? `What came in at ${site}; nobody dropped out`
    : `What came in at ${site}; ${dropOuts === 1 ? 'one device' : `${dropOuts} times a device`} was not heard`
