import type { Site } from '@jaunty-sparrow/contract'
import { useState } from 'react'
import { Button } from '../design/Button.tsx'
import { ChoiceField, TextField } from '../design/Field.tsx'
import { SheetForm } from '../design/SheetForm.tsx'
import { here, timeZones } from '../time/timeZones.ts'
import { useChangeSiteMutation, useCreateSiteMutation, useDeleteSiteMutation } from './sitesApi.ts'

interface SiteSheetProps {
  /** The site to change; without one, a new site is made. */
  readonly site?: Site
  readonly canDelete?: boolean
  readonly onClose: () => void
  readonly onCreated?: (site: Site) => void
}

export function SiteSheet({ site, canDelete = false, onClose, onCreated }: SiteSheetProps) {
  const [name, setName] = useState(site?.name ?? '')
  const [timeZone, setTimeZone] = useState(site?.timeZone ?? here)
  const [create, creating] = useCreateSiteMutation()
  const [change, changing] = useChangeSiteMutation()
  const [remove, removing] = useDeleteSiteMutation()
  const save = async () => {
    if (site) await change({ siteId: site.id, body: { name, timeZone } }).unwrap()
    else {
      const created = await create({ name, timeZone }).unwrap()
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
    </SheetForm>
  )
}
