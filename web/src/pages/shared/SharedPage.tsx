import type { SharedPage as Shown } from '@jaunty-sparrow/contract'
import { useEffect, useMemo } from 'react'
import { problemText } from '../../api/problemText.ts'
import { sharedToken } from '../../api/sharedToken.ts'
import { DashboardView } from '../../dashboards/DashboardView.tsx'
import { Sparrow } from '../../design/Sparrow.tsx'
import { live } from '../../live/connection.ts'
import { Door } from '../../people/Door.tsx'
import { useSharedPageQuery } from '../../share/shareApi.ts'
import { LiveMark } from '../../shell/LiveMark.tsx'
import { OfflineBanner } from '../../shell/OfflineBanner.tsx'
import { SignalTracks } from '../../signals/SignalTracks.tsx'
import { useAppSelector } from '../../store.ts'

const askAgain = 30_000

/** What anybody sees who has the link. */
export function SharedPage() {
  const { data: page, error } = useSharedPageQuery(sharedToken ?? '', { pollingInterval: askAgain })
  const isEnded = useAppSelector(({ live: line }) => line.state === 'ended')
  useEffect(() => {
    live.open()
    return () => live.close()
  }, [])
  if (isEnded || (error && !page)) {
    return (
      <Door
        title="Nothing is shown here any more"
        lead={isEnded ? 'The link was withdrawn, or its time is over.' : problemText(error)}
      />
    )
  }
  if (!page) return <div role="status" className="min-h-dvh" aria-label="Loading" />
  if (page.dashboard) return <Dashboard page={page} dashboard={page.dashboard} />
  return page.isSingle ? <Single page={page} /> : <Whole page={page} />
}

function Whole({ page }: { page: Shown }) {
  return (
    <div className="mx-auto grid max-w-5xl gap-5 px-4 py-5 lg:px-8">
      <header className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <h1 className="flex-1 text-3xl">{page.name}</h1>
        <LiveMark />
      </header>
      <OfflineBanner />
      <SignalTracks signals={page.signals} timeZone={page.timeZone} past={page.past} />
      <Foot lookingOn={page.lookingOn} />
    </div>
  )
}

/** A dashboard, or one instrument of it. */
function Dashboard({ page, dashboard }: { page: Shown; dashboard: NonNullable<Shown['dashboard']> }) {
  const devices = useMemo(
    () =>
      dashboard.devices.map(({ signals, kit, ...device }) => ({
        ...device,
        kit: { ...kit, name: null },
        signals: page.signals.filter(({ id }) => signals.includes(id)),
      })),
    [dashboard, page.signals],
  )
  return (
    <div className={page.isSingle ? 'px-3 pt-1' : 'mx-auto grid max-w-6xl gap-4 px-4 py-5 lg:px-8'}>
      {!page.isSingle && (
        <header className="flex flex-wrap items-center gap-x-4 gap-y-1">
          <h1 className="flex-1 text-3xl">{page.name}</h1>
          <LiveMark />
        </header>
      )}
      <OfflineBanner />
      <DashboardView
        shows={dashboard.shows}
        devices={devices}
        siteId={devices[0]?.siteId ?? 0}
        timeZone={page.timeZone}
        isShared
      />
      <Foot lookingOn={page.lookingOn} />
    </div>
  )
}

const Foot = ({ lookingOn }: { lookingOn: number }) => (
  <footer className="flex flex-wrap items-center gap-2 border-t border-rule pt-3 text-sm text-ink-soft">
    <Sparrow className="size-5 text-chestnut" />
    <span className="flex-1">Shown by Jaunty Sparrow, live</span>
    {lookingOn > 1 && <span>{lookingOn} looking on</span>}
  </footer>
)

/** One signal, as large as there is room: the way it stands within another page. */
const Single = ({ page }: { page: Shown }) => (
  <div className="px-3 pt-1">
    <SignalTracks signals={page.signals} timeZone={page.timeZone} past="none" />
    <footer className="flex items-center gap-3 text-sm">
      <h1 className="flex-1 truncate font-sans text-sm font-normal tracking-normal text-ink-soft">
        {page.name}
      </h1>
      <LiveMark />
    </footer>
  </div>
)
