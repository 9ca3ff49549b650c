import type { Device } from '@jaunty-sparrow/contract'
import { useState } from 'react'
import { useChangeDeviceMutation, useSitesQuery } from '../api/hooks.ts'
import { problemText } from '../api/problemText.ts'
import { Button } from '../design/Button.tsx'
import { ChoiceField, TextField } from '../design/Field.tsx'
import { Notice } from '../design/Notice.tsx'
import { Sheet } from '../design/Sheet.tsx'

/** Renames a device, or moves it to another site. */
export function RenameSheet({ device, onClose }: { device: Device; onClose: () => void }) {
  const { data: sites = [] } = useSitesQuery()
  const [name, setName] = useState(device.name)
  const [siteId, setSiteId] = useState(device.siteId)
  const [change, { error, isLoading }] = useChangeDeviceMutation()
  const save = async () => {
    await change({ address: device.address, body: { name, siteId } }).unwrap()
    onClose()
  }
  return (
    <Sheet open onClose={onClose} title={`Rename ${device.name}`}>
      <form
        className="grid gap-4"
        onSubmit={(event) => {
          event.preventDefault()
          save().catch(() => undefined)
        }}
      >
        <TextField
          label="Name"
          hint={`The address stays ${device.address}, so the firmware need not change.`}
          value={name}
          onChange={(event) => setName(event.target.value)}
          required
          maxLength={80}
        />
        {sites.length > 1 && (
          <ChoiceField
            label="Site"
            value={siteId}
            onChange={(event) => setSiteId(Number(event.target.value))}
          >
            {sites.map((site) => (
              <option key={site.id} value={site.id}>
                {site.name}
              </option>
            ))}
          </ChoiceField>
        )}
        {error && <Notice tone="trouble" title={problemText(error)} />}
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" weight="strong" disabled={isLoading}>
            Save
          </Button>
        </div>
      </form>
    </Sheet>
  )
}
