import { mayAt } from '@jaunty-sparrow/core/access'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { Button } from '../../design/Button.tsx'
import { useDevicesQuery } from '../../devices/devicesApi.ts'
import { useAccess } from '../../people/useMay.ts'
import { PickSignals } from '../../pick/PickSignals.tsx'
import { useSitesQuery } from '../../sites/sitesApi.ts'

/** Leads to a new alarm, of a signal that is picked. */
export function NewAlarmButton() {
  const { data: devices = [] } = useDevicesQuery()
  const { data: sites = [] } = useSitesQuery()
  const [picking, setPicking] = useState(false)
  const navigate = useNavigate()
  const access = useAccess()
  const owned = devices.filter(({ siteId }) => mayAt(access, 'owner', siteId))
  if (owned.length === 0) return null
  return (
    <>
      <Button className="ml-auto" onClick={() => setPicking(true)}>
        New alarm
      </Button>
      {picking && (
        <PickSignals
          title="An alarm for"
          devices={owned}
          siteName={(siteId) => sites.find(({ id }) => id === siteId)?.name ?? ''}
          onPick={([signal]) => signal && void navigate(`/guard/new/${signal.id}`)}
          onClose={() => setPicking(false)}
        />
      )}
    </>
  )
}
