import type { Site } from '@jaunty-sparrow/contract'
import { type ComponentProps, useState } from 'react'
import { Button } from '../design/Button.tsx'
import { ChoiceField, TextField } from '../design/Field.tsx'
import { SheetForm } from '../design/SheetForm.tsx'
import { here, timeZones } from '../time/timeZones.ts'
import { UnitChoicesEditor } from '../units/UnitChoicesEditor.tsx'
import { useChangeSiteMutation, useCreateSiteMutation, useDeleteSiteMutation } from './sitesApi.ts'

interface SiteSheetProps {
  /** The site to change; without one, a new site is made. */
  readonly site?: Site
  readonly canDelete?: boolean
  readonly onClose: () => void
  readonly onCreated?: (site: Site) => void
}

const degrees = (text: string): number | null => (text.trim() === '' ? null : Number(text))

function Units(props: ComponentProps<typeof UnitChoicesEditor>) {
  return (
    <fieldset className="grid gap-2">
      <legend className="text-sm font-semibold">Units</legend>
      <p className="text-sm text-ink-soft">
        For all who look at this site and did not choose for themselves.
      </p>
      <UnitChoicesEditor {...props} />
    </fieldset>
  )
}

/** Says what a site is called, where it lies, and by which clock its days go. */
export function SiteSheet({ site, canDelete = false, onClose, onCreated }: SiteSheetProps) {
  const [name, setName] = useState(site?.name ?? '')
  const [timeZone, setTimeZone] = useState(site?.timeZone ?? here)
  const [lat, setLat] = useState(String(site?.lat ?? ''))
  const [units, setUnits] = useState(site?.units ?? [])
  const [lon, setLon] = useState(String(site?.lon ?? ''))
  const [create, creating] = useCreateSiteMutation()
  const [change, changing] = useChangeSiteMutation()
  const [remove, removing] = useDeleteSiteMutation()
  const save = async () => {
    const body = { name, timeZone, lat: degrees(lat), lon: degrees(lon), units }
    if (site) await change({ siteId: site.id, body }).unwrap()
    else {
      const created = await create(body).unwrap()
      onCreated?.(created)
    }
  }
  const deletion = site && canDelete && (
    <Button
      weight="danger"
      onClick={() =>
        remove({ siteId: site.id })
          .unwrap()
          .then(onClose, () => undefined)
      }
    >
      Delete the site
    </Button>
  )
  return (
    <SheetForm
      title={site ? `Change ${site.name}` : 'Add a site'}
      saveLabel={site ? 'Save' : 'Add the site'}
      busy={creating.isLoading || changing.isLoading}
      error={creating.error ?? changing.error ?? removing.error}
      onSave={save}
      onClose={onClose}
      aside={deletion}
    >
      <TextField
        label="Name"
        value={name}
        onChange={(event) => setName(event.target.value)}
        required
        maxLength={80}
      />
      <ChoiceField
        label="Time zone"
        hint="The days of the site begin and end by it."
        value={timeZone}
        onChange={(event) => setTimeZone(event.target.value)}
      >
        {timeZones.map((zone) => (
          <option key={zone}>{zone}</option>
        ))}
      </ChoiceField>
      <div className="grid grid-cols-2 items-start gap-3">
        <TextField
          label="Latitude"
          type="number"
          min={-90}
          max={90}
          step="any"
          value={lat}
          onChange={({ target }) => setLat(target.value)}
          hint="Tells when it is night there."
        />
        <TextField
          label="Longitude"
          type="number"
          min={-180}
          max={180}
          step="any"
          value={lon}
          onChange={({ target }) => setLon(target.value)}
        />
      </div>
      <Units choices={units} onChange={setUnits} />
    </SheetForm>
  )
}
