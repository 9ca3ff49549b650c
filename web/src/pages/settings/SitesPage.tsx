import type { Site } from '@jaunty-sparrow/contract'
import { mayAt, mayEverywhere } from '@jaunty-sparrow/core/access'
import { Plus } from 'lucide-react'
import { useState } from 'react'
import { Button } from '../../design/Button.tsx'
import { counted } from '../../design/counted.ts'
import { useDevicesQuery } from '../../devices/devicesApi.ts'
import { useAccess } from '../../people/useMay.ts'
import { SiteSheet } from '../../sites/SiteSheet.tsx'
import { useSitesQuery } from '../../sites/sitesApi.ts'

/** The sites: where they lie, and by which clock their days go. */
export function SitesPage() {
  const { data: sites = [] } = useSitesQuery()
  const { data: devices = [] } = useDevicesQuery()
  const access = useAccess()
  const [adding, setAdding] = useState(false)
  const [changing, setChanging] = useState<Site>()
  const standing = (siteId: number) => devices.filter((device) => device.siteId === siteId).length
  return (
    <div className="grid gap-6">
      <header className="flex flex-wrap items-center gap-x-4 gap-y-2">
        <h1 className="flex-1 text-3xl">Sites</h1>
        {mayEverywhere(access, 'owner') && (
          <Button weight="strong" onClick={() => setAdding(true)}>
            <Plus aria-hidden="true" className="size-4" />
            Add a site
          </Button>
        )}
      </header>
      <ul className="divide-y divide-rule border-y border-rule text-sm">
        {sites.map((site) => (
          <li key={site.id} className="flex min-h-14 flex-wrap items-center gap-x-4 py-2">
            <span className="min-w-48 flex-1">
              <strong className="font-display text-base">{site.name}</strong>
              <span className="block text-ink-soft">
                {site.timeZone} · {place(site)} · {counted(standing(site.id), 'device')}
              </span>
            </span>
            {mayAt(access, 'owner', site.id) && (
              <Button weight="quiet" aria-label={`Change ${site.name}`} onClick={() => setChanging(site)}>
                Change
              </Button>
            )}
          </li>
        ))}
      </ul>
      {adding && <SiteSheet onClose={() => setAdding(false)} />}
      {changing && (
        <SiteSheet
          site={changing}
          canDelete={standing(changing.id) === 0}
          onClose={() => setChanging(undefined)}
        />
      )}
    </div>
  )
}

const place = ({ lat, lon }: Site): string =>
  lat === null || lon === null
    ? 'nobody has said where'
    : `${Math.abs(lat).toFixed(3)}° ${lat < 0 ? 'S' : 'N'}, ${Math.abs(lon).toFixed(3)}° ${lon < 0 ? 'W' : 'E'}`
