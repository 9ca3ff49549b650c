import { Link, useParams } from 'react-router'
import { WallAlarm } from '../../alarms/WallAlarm.tsx'
import { useDashboardQuery } from '../../dashboards/dashboardsApi.ts'
import { Skeleton } from '../../design/Skeleton.tsx'
import { useDevicesQuery } from '../../devices/devicesApi.ts'
import { useSitesQuery } from '../../sites/sitesApi.ts'
import { WallView } from '../../wall/WallView.tsx'

/** A dashboard on a wall: it fills the screen, and nothing else is on it. */
export function WallPage() {
  const { dashboardId } = useParams()
  const { data: dashboard } = useDashboardQuery(Number(dashboardId))
  const { data: devices } = useDevicesQuery()
  const { data: sites } = useSitesQuery()
  const site = sites?.find(({ id }) => id === dashboard?.siteId)
  if (!dashboard || !devices || !site) return <Skeleton className="h-dvh" />
  return (
    <WallView
      dashboard={dashboard}
      devices={devices}
      site={site}
      urgent={<WallAlarm siteId={site.id} devices={devices} />}
    >
      <Link
        to={`/dashboards/${dashboard.id}`}
        className="absolute right-3 bottom-1 text-xs text-chestnut opacity-0 focus:opacity-100 hover:opacity-100"
      >
        Leave the wall
      </Link>
    </WallView>
  )
}
