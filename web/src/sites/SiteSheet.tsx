import type { Site } from '@jaunty-sparrow/contract'
import { useState } from 'react'
import { useChangeSiteMutation, useCreateSiteMutation, useDeleteSiteMutation } from '../api/hooks.ts'
import { problemText } from '../api/problemText.ts'
import { Button } from '../design/Button.tsx'
import { ChoiceField, TextField } from '../design/Field.tsx'
import { Notice } from '../design/Notice.tsx'
import { Sheet } from '../design/Sheet.tsx'

const here = Intl.DateTimeFormat().resolvedOptions().timeZone
const timeZones = [...new Set([here, 'UTC', ...Intl.supportedValuesOf('timeZone')])]

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
  const error = creating.error ?? changing.error ?? removing.error
  const save = async () => {
    if (site) await change({ siteId: site.id, body: { name, timeZone } }).unwrap()
    else {
      const created = await create({ name, timeZone }).unwrap()
      onCreated?.(created)
    }
    onClose()
  }
  return (
    <Sheet open onClose={onClose} title={site ? `Change ${site.name}` : 'Add a site'}>
      <form
        className="grid gap-4"
        onSubmit={(event) => {
          event.preventDefault()
          save().catch(() => undefined)
        }}
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
        {error && <Notice tone="trouble" title={problemText(error)} />}
        <div className="flex justify-end gap-2">
          {site && canDelete && (
            <Button
              weight="danger"
              className="mr-auto"
              onClick={() =>
                remove({ siteId: site.id })
                  .unwrap()
                  .then(onClose, () => undefined)
              }
            >
              Delete the site
            </Button>
          )}
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" weight="strong" disabled={creating.isLoading || changing.isLoading}>
            {site ? 'Save' : 'Add the site'}
          </Button>
        </div>
      </form>
    </Sheet>
  )
}
