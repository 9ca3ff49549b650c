import type { Device } from '@jaunty-sparrow/contract'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { TextField } from '../design/Field.tsx'
import { SheetForm } from '../design/SheetForm.tsx'
import { useChangeKitMutation } from '../kits/kitsApi.ts'

/** Makes the kit of a one-off device usable for others: it gets a name, and the next device can be made of it. */
export function MoreOfThisSheet({ device, onClose }: { device: Device; onClose: () => void }) {
  const [name, setName] = useState(device.kit.name ?? device.name)
  const [change, { error, isLoading }] = useChangeKitMutation()
  const navigate = useNavigate()
  const { id: kitId } = device.kit
  const save = async () => {
    if (name !== device.kit.name) await change({ kitId, body: { name } }).unwrap()
    await navigate(`/devices/new?kit=${kitId}&site=${device.siteId}`)
  }
  return (
    <SheetForm
      title={`More of ${device.name}`}
      saveLabel="Make more"
      busy={isLoading}
      error={error}
      onSave={save}
      onClose={onClose}
    >
      <p className="text-sm text-ink-soft">
        Its signals become a kit that others can be made of. What is changed in the kit later reaches all of
        them.
      </p>
      <TextField
        label="What this kind of device is called"
        value={name}
        onChange={({ target }) => setName(target.value)}
        required
        maxLength={80}
      />
    </SheetForm>
  )
}
