import type { Device, Site } from '@jaunty-sparrow/contract'
import { maySomewhere } from '@jaunty-sparrow/core/access'
import { nowOf } from '@jaunty-sparrow/core/dashboard'
import { Plus } from 'lucide-react'
import { lazy, Suspense, useMemo, useState } from 'react'
import { Link } from 'react-router'
import { problemText } from '../../api/problemText.ts'
import { DashboardView } from '../../dashboards/DashboardView.tsx'
import { PageSpanBar } from '../../dashboards/PageSpanBar.tsx'
import { lengthOf, usePageSpan } from '../../dashboards/usePageSpan.ts'
import { Button, buttonLook } from '../../design/Button.tsx'
import { counted } from '../../design/counted.ts'
import { Notice } from '../../design/Notice.tsx'
import { Skeleton } from '../../design/Skeleton.tsx'
import { useDevicesQuery } from '../../devices/devicesApi.ts'
import { dateFormat } from '../../language/dateFormat.ts'
import { useAccess, useMay } from '../../people/useMay.ts'
import { useSitesQuery } from '../../sites/sitesApi.ts'
import { useBeat } from '../../time/clock.ts'
import { useMoment } from '../../time/moment.ts'

/** The first values do not wait for what is seldom opened. */
const SiteSheet = lazy(async () => ({ default: (await import('../../sites/SiteSheet.tsx')).SiteSheet }))

const NewDashboardSheet = lazy(async () => ({
  default: (await import('../../dashboards/NewDashboardSheet.tsx')).NewDashboardSheet,
}))

/** The first page: every site with its devices, as they are now. */
export function Overview() {
  const access = useAccess()
  return maySomewhere(access, 'viewer') ? <Sites /> : <NoRole />
}

function Sites() {
  const sites = useSitesQuery()
  const devices = useDevicesQuery()
  const [adding, setAdding] = useState(false)
  const error = sites.error ?? devices.error
  const ownsAll = useMay('owner')
  const all = devices.data ?? []
  return (
    <div className="grid gap-10">
      <h1 className="sr-only">Sites and devices</h1>
      {error && !devices.data && (
        <Notice tone="trouble" title="The devices could not be loaded">
          {problemText(error)}{' '}
          <button
            type="button"
            className="font-semibold text-chestnut underline"
            onClick={() => void devices.refetch()}
          >
            Try again
          </button>
        </Notice>
      )}
      {!error && (!sites.data || !devices.data) && <Loading />}
      {sites.data && devices.data && (
        <>
          {sites.data.length === 0 && ownsAll && <Welcome onAddSite={() => setAdding(true)} />}
          {sites.data.map((site) => (
            <SiteSection key={site.id} site={site} devices={all.filter(({ siteId }) => siteId === site.id)} />
          ))}
          {sites.data.length > 0 && (
            <p className="flex flex-wrap gap-2">
              {ownsAll && (
                <Button weight="quiet" onClick={() => setAdding(true)}>
                  <Plus aria-hidden="true" className="size-4" />
                  Another site
                </Button>
              )}
            </p>
          )}
        </>
      )}
      <Suspense>{adding && <SiteSheet onClose={() => setAdding(false)} />}</Suspense>
    </div>
  )
}

function SiteSection({ site, devices }: { site: Site; devices: readonly Device[] }) {
  const [editing, setEditing] = useState(false)
  const [making, setMaking] = useState(false)
  const isOwn = useMay('owner', site.id)
  return (
    <section id={`site-${site.id}`} className="grid scroll-mt-20 gap-4">
      <header className="flex flex-wrap items-baseline gap-x-4 gap-y-2">
        <h2 className="text-2xl">{site.name}</h2>
        <p className="flex-1 text-sm whitespace-nowrap text-ink-soft">
          <SiteClock timeZone={site.timeZone} /> there · {counted(devices.length, 'device')}
        </p>
        <span className="flex flex-wrap gap-2">
          <Button weight="quiet" onClick={() => setMaking(true)}>
            Make a dashboard
          </Button>
        </span>
        {isOwn && (
          <span className="flex gap-2">
            <Button weight="quiet" onClick={() => setEditing(true)} aria-label={`Change ${site.name}`}>
              Change
            </Button>
            <Link to={`/devices/new?site=${site.id}`} className={buttonLook('plain')}>
              <Plus aria-hidden="true" className="size-4" />
              New device
            </Link>
          </span>
        )}
      </header>
      {devices.length > 0 ? (
        <Now site={site} devices={devices} />
      ) : (
        <div className="grid justify-items-start gap-3 rounded-lg border border-dashed border-rule-strong p-6">
          <p className="max-w-prose text-ink-soft">
            {isOwn
              ? 'No devices here yet. Name one, and you get an address, a secret and a line to paste: its first value shows up here a second later.'
              : 'No devices here yet.'}
          </p>
          {isOwn && (
            <Link to={`/devices/new?site=${site.id}`} className={buttonLook('strong')}>
              Create the first device
            </Link>
          )}
        </div>
      )}
      <Suspense>
        {making && <NewDashboardSheet site={site} devices={devices} onClose={() => setMaking(false)} />}
        {editing && (
          <SiteSheet site={site} canDelete={devices.length === 0} onClose={() => setEditing(false)} />
        )}
      </Suspense>
    </section>
  )
}

/** The page that every site has from the start: each of its devices as a chapter, with all it says. */
function Now({ site, devices }: { site: Site; devices: readonly Device[] }) {
  const shows = useMemo(() => nowOf(site.id), [site.id])
  const { at } = useMoment()
  const { span } = usePageSpan()
  return (
    <>
      <PageSpanBar timeZone={site.timeZone} />
      <DashboardView
        shows={shows}
        devices={devices}
        siteId={site.id}
        timeZone={site.timeZone}
        moment={at}
        length={span === undefined ? undefined : lengthOf(span)}
      />
    </>
  )
}

/** What the clock on the wall says there. */
function SiteClock({ timeZone }: { timeZone: string }) {
  const now = useBeat(60_000)
  const clock = useMemo(
    () => dateFormat({ timeZone, weekday: 'short', hour: '2-digit', minute: '2-digit' }),
    [timeZone],
  )
  return clock.format(now)
}

const NoRole = () => (
  <section className="mx-auto grid max-w-xl gap-4 py-16">
    <h2 className="text-3xl">Nothing to see yet</h2>
    <p className="text-lg text-ink-soft">
      You have no role at any site. Whoever owns one can invite you; this page then fills by itself.
    </p>
  </section>
)

const Welcome = ({ onAddSite }: { onAddSite: () => void }) => (
  <section className="mx-auto grid max-w-xl justify-items-start gap-4 py-16">
    <h2 className="text-3xl">Where are your devices?</h2>
    <p className="text-lg text-ink-soft">
      A site is a place with a time zone of its own: a house, a greenhouse, a workshop. Your devices, and what
      they measure, will appear under it.
    </p>
    <Button weight="strong" onClick={onAddSite}>
      Add your first site
    </Button>
  </section>
)

const Loading = () => (
  <div role="status" className="grid gap-4">
    <span className="sr-only">Loading the devices</span>
    <Skeleton className="h-8 w-64" />
    {[1, 2, 3, 4].map((place) => (
      <Skeleton key={place} className="h-40" />
    ))}
  </div>
)
