import { maySomewhere } from '@jaunty-sparrow/core/access'
import { Plus, Star } from 'lucide-react'
import { Link, NavLink } from 'react-router'
import { useDashboardsQuery } from '../dashboards/dashboardsApi.ts'
import { useDevicesQuery } from '../devices/devicesApi.ts'
import { PresenceMark } from '../devices/Presence.tsx'
import { useSessionQuery } from '../people/peopleApi.ts'
import { useAccess } from '../people/useMay.ts'
import { useSitesQuery } from '../sites/sitesApi.ts'

/** All sites and devices down the side: where one is, and how the others are doing meanwhile. */
export function Spine() {
  const { data: sites = [] } = useSitesQuery()
  const { data: devices = [] } = useDevicesQuery()
  const { data: dashboards = [] } = useDashboardsQuery()
  const { data: session } = useSessionQuery()
  const access = useAccess()
  const favourites = session?.state === 'signed-in' ? session.preferences.favourites : []
  const wanted = dashboards.filter(({ id }) => favourites.includes(id))
  return (
    <nav
      aria-label="Sites and devices"
      className="grid grid-cols-[minmax(0,1fr)] content-start gap-5 overflow-y-auto px-3 pb-6 text-sm"
    >
      {wanted.length > 0 && (
        <section aria-label="Favourites" className="grid grid-cols-[minmax(0,1fr)] gap-0.5">
          {wanted.map(({ id, name }) => (
            <NavLink
              key={id}
              to={`/dashboards/${id}`}
              className="flex min-h-8 items-center gap-2 rounded-md px-2 py-1 hover:text-chestnut"
            >
              <Star aria-hidden="true" className="size-3.5" />
              <span className="truncate">{name}</span>
            </NavLink>
          ))}
        </section>
      )}
      {sites.map((site) => (
        <section key={site.id} className="grid grid-cols-[minmax(0,1fr)] gap-0.5">
          <Link
            to={`/#site-${site.id}`}
            className="rounded px-2 py-1 font-display font-semibold hover:text-chestnut"
          >
            {site.name}
          </Link>
          {dashboards
            .filter((page) => page.siteId === site.id)
            .map(({ id, name, isMine }) => (
              <NavLink
                key={`page ${id}`}
                to={`/dashboards/${id}`}
                className={({ isActive }) =>
                  `flex min-h-8 items-center gap-2 rounded-md border-l-2 py-1 pr-2 pl-2.5 ${isActive ? 'border-chestnut bg-well font-semibold' : 'border-rule hover:text-chestnut'}`
                }
              >
                <span className="min-w-0 flex-1 truncate">{name}</span>
                {isMine && <span className="text-xs text-ink-soft">mine</span>}
              </NavLink>
            ))}
          {devices
            .filter((device) => device.siteId === site.id)
            .map((device) => (
              <NavLink
                key={device.id}
                to={`/devices/${device.address}`}
                className={({ isActive }) =>
                  `flex min-h-8 items-center gap-2 rounded-md border-l-2 py-1 pr-2 pl-2.5 ${isActive ? 'border-chestnut bg-well font-semibold' : 'border-rule text-ink-soft hover:text-ink'}`
                }
              >
                <span className="min-w-0 flex-1 truncate">{device.name}</span>
                <PresenceMark device={device} />
              </NavLink>
            ))}
        </section>
      ))}
      {maySomewhere(access, 'owner') && (
        <Link
          to="/devices/new"
          className="mx-2 inline-flex min-h-8 items-center gap-1.5 font-semibold text-chestnut hover:underline"
        >
          <Plus aria-hidden="true" className="size-4" />
          New device
        </Link>
      )}
    </nav>
  )
}
