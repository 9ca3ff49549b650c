import type { Device } from '@jaunty-sparrow/contract'
import { useState } from 'react'
import { ChoiceField, TextField } from '../design/Field.tsx'
import { SheetForm } from '../design/SheetForm.tsx'
import { useSitesQuery } from '../sites/sitesApi.ts'
import { useChangeDeviceMutation } from './devicesApi.ts'

/** Renames a device, says where it is, or moves it to another site. */
export function RenameSheet({ device, onClose }: { device: Device; onClose: () => void }) {
  const { data: sites = [] } = useSitesQuery()
  const [name, setName] = useState(device.name)
  const [siteId, setSiteId] = useState(device.siteId)
  const [place, setPlace] = useState(device.place)
  const [change, { error, isLoading }] = useChangeDeviceMutation()
  const save = () => change({ address: device.address, body: { name, siteId, place: place.trim() } }).unwrap()
  return (
    <SheetForm
      title={`Rename ${device.name}`}
      saveLabel="Save"
      busy={isLoading}
      error={error}
      onSave={save}
      onClose={onClose}
    >
      <TextField
        label="Name"
        hint={`The address stays ${device.address}, so the firmware need not change.`}
        value={name}
        onChange={(event) => setName(event.target.value)}
        required
        maxLength={80}
      />
      <TextField
        label="Where it is"
        placeholder="above the door, on the north wall"
        value={place}
        maxLength={120}
        onChange={({ target }) => setPlace(target.value)}
      />
      {sites.length > 1 && (
        <ChoiceField label="Site" value={siteId} onChange={(event) => setSiteId(Number(event.target.value))}>
          {sites.map((site) => (
            <option key={site.id} value={site.id}>
              {site.name}
            </option>
          ))}
        </ChoiceField>
      )}
    </SheetForm>
  )
}
