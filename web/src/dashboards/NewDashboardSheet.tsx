import type { Device, Site } from '@jaunty-sparrow/contract'
import { type Dashboard, emptyDashboard, nowOf } from '@jaunty-sparrow/core/dashboard'
import uniqBy from 'lodash-es/uniqBy.js'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { ChoiceField, TextField } from '../design/Field.tsx'
import { SheetForm } from '../design/SheetForm.tsx'
import { useMay } from '../people/useMay.ts'
import { asSent, useCreateDashboardMutation } from './dashboardsApi.ts'
import { pageOfDevice, pageOfKit } from './proposals.ts'
import { type Seen, SeenBy } from './SeenBy.tsx'

interface NewDashboardSheetProps {
  readonly site: Site
  readonly devices: readonly Device[]
  /** What it begins with: `device 3`, `kit 4`. */
  readonly from?: string
  readonly onClose: () => void
}

/** A new dashboard begins with something good: what is proposed for a device, for all of a kit, for the site; or empty. */
export function NewDashboardSheet({ site, devices, from = 'site', onClose }: NewDashboardSheetProps) {
  const navigate = useNavigate()
  const isOwner = useMay('owner', site.id)
  const [create, { isLoading, error }] = useCreateDashboardMutation()
  const [start, setStart] = useState(from)
  const [name, setName] = useState('')
  const [seen, setSeen] = useState<Seen>({ isMine: !isOwner, role: 'viewer' })
  const kits = uniqBy(
    devices.map(({ kit }) => kit),
    'id',
  ).filter(({ name }) => name !== null)
  const [what, number] = start.split(' ')
  const device = devices.find(({ id }) => what === 'device' && id === Number(number))
  const ofKit = devices.find(({ kit }) => what === 'kit' && kit.id === Number(number))
  const proposedName =
    device?.name ?? ofKit?.kit.name ?? (what === 'site' ? `All of ${site.name}` : 'A new page')
  const shows = (): Dashboard => {
    if (device) return pageOfDevice(device)
    if (ofKit) return pageOfKit(ofKit)
    return what === 'site' ? nowOf(site.id) : emptyDashboard
  }
  return (
    <SheetForm
      title="A new dashboard"
      saveLabel="Make it"
      busy={isLoading}
      error={error}
      onClose={onClose}
      onSave={async () => {
        const made = await create({
          siteId: site.id,
          name: name.trim() || proposedName,
          ...seen,
          shows: asSent(shows()),
        }).unwrap()
        void navigate(`/dashboards/${made.id}?edit`)
      }}
    >
      <ChoiceField label="Begin with" value={start} onChange={(event) => setStart(event.target.value)}>
        <option value="site">everything at {site.name}</option>
        {kits.map(({ id, name: called }) => (
          <option key={id} value={`kit ${id}`}>
            each {called}
          </option>
        ))}
        {devices.map(({ id, name: called }) => (
          <option key={id} value={`device ${id}`}>
            {called}
          </option>
        ))}
        <option value="empty">an empty page</option>
      </ChoiceField>
      <TextField
        label="Name"
        value={name}
        placeholder={proposedName}
        maxLength={80}
        onChange={(event) => setName(event.target.value)}
      />
      {isOwner && <SeenBy seen={seen} onChange={setSeen} />}
    </SheetForm>
  )
}
