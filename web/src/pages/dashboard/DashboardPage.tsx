import type { KeptDashboard } from '@jaunty-sparrow/contract'
import { Star } from 'lucide-react'
import { lazy, Suspense, useState } from 'react'
import { Link, useNavigate, useParams, useSearchParams } from 'react-router'
import { problemText } from '../../api/problemText.ts'
import { DashboardView } from '../../dashboards/DashboardView.tsx'
import { useDashboardQuery } from '../../dashboards/dashboardsApi.ts'
import { PageSpanBar } from '../../dashboards/PageSpanBar.tsx'
import { lengthOf, usePageSpan } from '../../dashboards/usePageSpan.ts'
import { Button, buttonLook } from '../../design/Button.tsx'
import { Notice } from '../../design/Notice.tsx'
import { Skeleton } from '../../design/Skeleton.tsx'
import { useDevicesQuery } from '../../devices/devicesApi.ts'
import { useChangePreferencesMutation, useSessionQuery } from '../../people/peopleApi.ts'
import { useMay } from '../../people/useMay.ts'
import { useSitesQuery } from '../../sites/sitesApi.ts'
import { useMoment } from '../../time/moment.ts'

const EditingPage = lazy(async () => ({ default: (await import('./EditingPage.tsx')).EditingPage }))
const DashboardMenu = lazy(async () => ({
  default: (await import('../../dashboards/DashboardMenu.tsx')).DashboardMenu,
}))

/** A dashboard somebody made. */
export function DashboardPage() {
  const { dashboardId } = useParams()
  const { data, error, refetch } = useDashboardQuery(Number(dashboardId))
  if (error && !data)
    return (
      <Notice tone="trouble" title="The dashboard could not be loaded">
        {problemText(error)}{' '}
        <button
          type="button"
          className="font-semibold text-chestnut underline"
          onClick={() => void refetch()}
        >
          Try again
        </button>
      </Notice>
    )
  return data && String(data.id) === dashboardId ? (
    <Loaded key={data.id} dashboard={data} />
  ) : (
    <div role="status">
      <span className="sr-only">Loading the dashboard</span>
      <Skeleton className="h-64" />
    </div>
  )
}

function Loaded({ dashboard }: { readonly dashboard: KeptDashboard }) {
  const [params, setParams] = useSearchParams()
  const navigate = useNavigate()
  const { data: devices } = useDevicesQuery()
  const { data: sites } = useSitesQuery()
  const { at } = useMoment()
  const { span } = usePageSpan()
  const isOwner = useMay('owner', dashboard.siteId)
  const [hasMenu, setMenu] = useState(false)
  const site = sites?.find(({ id }) => id === dashboard.siteId)
  if (!devices || !site) return <Skeleton className="h-64" />
  const mayEdit = dashboard.isMine || isOwner
  if (params.has('edit') && mayEdit)
    return (
      <Suspense fallback={<Skeleton className="h-64" />}>
        <EditingPage dashboard={dashboard} devices={devices} site={site} onDone={() => setParams({})} />
      </Suspense>
    )
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-4">
      <header className="flex flex-wrap items-baseline gap-x-4 gap-y-2">
        <h1 className="text-3xl">{dashboard.name}</h1>
        <p className="flex-1 text-sm text-ink-soft">
          {site.name}
          {dashboard.isMine && ' · only for you'}
        </p>
        <span className="flex items-center gap-1">
          <Favourite id={dashboard.id} />
          <Link to={`/wall/${dashboard.id}`} className={buttonLook('quiet')}>
            Wall
          </Link>
          {mayEdit && at === undefined && (
            <Button weight="quiet" onClick={() => setParams({ edit: '' })}>
              Edit
            </Button>
          )}
          <Button weight="quiet" aria-haspopup="menu" onClick={() => setMenu(true)}>
            More
          </Button>
          <Suspense>
            {hasMenu && (
              <DashboardMenu
                dashboard={dashboard}
                mayEdit={mayEdit}
                isOwner={isOwner}
                onDeleted={() => void navigate('/')}
                onClose={() => setMenu(false)}
              />
            )}
          </Suspense>
        </span>
      </header>
      <PageSpanBar timeZone={site.timeZone} />
      <DashboardView
        shows={dashboard.shows}
        devices={devices}
        siteId={dashboard.siteId}
        timeZone={site.timeZone}
        moment={at}
        length={span === undefined ? undefined : lengthOf(span)}
      />
    </div>
  )
}

function Favourite({ id }: { readonly id: number }) {
  const { data: session } = useSessionQuery()
  const [change] = useChangePreferencesMutation()
  const favourites = session?.state === 'signed-in' ? session.preferences.favourites : []
  const isOne = favourites.includes(id)
  return (
    <button
      type="button"
      aria-pressed={isOne}
      aria-label="A favourite of mine"
      title="A favourite of mine"
      className="rounded p-2 text-chestnut hover:bg-well"
      onClick={() =>
        void change({ favourites: isOne ? favourites.filter((each) => each !== id) : [...favourites, id] })
      }
    >
      <Star aria-hidden="true" className="size-4" fill={isOne ? 'currentColor' : 'none'} />
    </button>
  )
}
