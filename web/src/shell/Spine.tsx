import { maySomewhere } from '@jaunty-sparrow/core/access'
import { Plus } from 'lucide-react'
import { Link, NavLink } from 'react-router'
import { useDevicesQuery } from '../devices/devicesApi.ts'
import { PresenceMark } from '../devices/Presence.tsx'
import { useAccess } from '../people/useMay.ts'
import { useSitesQuery } from '../sites/sitesApi.ts'

/** All sites and devices down the side: where one is, and how the others are doing meanwhile. */
export function Spine() {
  const { data: sites = [] } = useSitesQuery()
  const { data: devices = [] } = useDevicesQuery()
  const access = useAccess()
  return (
    <nav
      aria-label="Sites and devices"
      className="grid grid-cols-[minmax(0,1fr)] content-start gap-5 overflow-y-auto px-3 pb-6 text-sm"
    >
      {sites.map((site) => (
        <section key={site.id} className="grid grid-cols-[minmax(0,1fr)] gap-0.5">
          <Link
            to={`/#site-${site.id}`}
            className="rounded px-2 py-1 font-display font-semibold hover:text-chestnut"
          >
            {site.name}
          </Link>
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
