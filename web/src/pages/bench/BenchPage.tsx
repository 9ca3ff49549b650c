import type { Device } from '@jaunty-sparrow/contract'
import { mayAt, maySomewhere } from '@jaunty-sparrow/core/access'
import { Plus } from 'lucide-react'
import { Link } from 'react-router'
import { buttonLook } from '../../design/Button.tsx'
import { counted } from '../../design/counted.ts'
import { useDevicesQuery } from '../../devices/devicesApi.ts'
import { DevicePresence } from '../../devices/Presence.tsx'
import { useAccess } from '../../people/useMay.ts'
import { inUse } from '../../signals/inUse.ts'
import { useSitesQuery } from '../../sites/sitesApi.ts'

/** All devices in a list: what each is made of, and whether it speaks. */
export function BenchPage() {
  const { data: devices = [] } = useDevicesQuery()
  const { data: sites = [] } = useSitesQuery()
  const access = useAccess()
  return (
    <div className="grid gap-6">
      <header className="flex flex-wrap items-center gap-x-4 gap-y-2">
        <h1 className="flex-1 text-3xl">Devices</h1>
        {maySomewhere(access, 'owner') && (
          <Link to="/devices/new" className={buttonLook('strong')}>
            <Plus aria-hidden="true" className="size-4" />
            New device
          </Link>
        )}
      </header>
      {devices.length === 0 && (
        <p className="rounded-lg border border-dashed border-rule-strong p-6 text-ink-soft">
          No devices yet. Name one, and you get an address, a secret and a line to paste.
        </p>
      )}
      {sites.map(({ id, name }) => {
        const standing = devices.filter(({ siteId }) => siteId === id)
        if (standing.length === 0) return null
        return (
          <section key={id} className="grid gap-2">
            <h2 className="text-lg">{name}</h2>
            <ul className="divide-y divide-rule border-y border-rule text-sm">
              {standing.map((device) => (
                <DeviceRow key={device.id} device={device} isOwn={mayAt(access, 'owner', device.siteId)} />
              ))}
            </ul>
          </section>
        )
      })}
    </div>
  )
}

function DeviceRow({ device, isOwn }: { device: Device; isOwn: boolean }) {
  const suggested = device.signals.filter(({ state }) => state === 'suggested').length
  const accepted = inUse(device).length
  return (
    <li className="flex min-h-12 flex-wrap items-center gap-x-4 gap-y-0.5 py-1.5">
      <span className="min-w-48 flex-1">
        <Link
          to={`/devices/${device.address}`}
          className="font-display text-base font-semibold hover:text-chestnut hover:underline"
        >
          {device.name}
        </Link>
        <span className="block text-ink-soft">
          <code className="font-mono text-xs">{device.address}</code>
          {device.kit.name !== null && ` · ${device.kit.name}`} · {counted(accepted, 'signal')}
          {isOwn && suggested > 0 && `, ${suggested} suggested`}
        </span>
      </span>
      <DevicePresence device={device} />
    </li>
  )
}
