import type { Device } from '@jaunty-sparrow/contract'
import { addressPattern, longestAddress } from '@jaunty-sparrow/core/device'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { TextField } from '../design/Field.tsx'
import { Notice } from '../design/Notice.tsx'
import { SheetForm } from '../design/SheetForm.tsx'
import { useChangeDeviceMutation } from './devicesApi.ts'

/** Gives a device another address, and says first what that breaks. */
export function AddressSheet({ device, onClose }: { device: Device; onClose: () => void }) {
  const [address, setAddress] = useState(device.address)
  const [change, { error, isLoading }] = useChangeDeviceMutation()
  const navigate = useNavigate()
  const isRight = new RegExp(addressPattern).test(address)
  const save = async () => {
    await change({ address: device.address, body: { address } }).unwrap()
    await navigate(`/devices/${address}`, { replace: true })
  }
  return (
    <SheetForm
      title={`Another address for ${device.name}`}
      saveLabel="Change the address"
      busy={isLoading || !isRight || address === device.address}
      error={error}
      onSave={save}
      onClose={onClose}
    >
      <TextField
        label="Address"
        error={
          isRight
            ? undefined
            : 'Use lower-case letters, digits and single hyphens between them, like brine-tank.'
        }
        value={address}
        maxLength={longestAddress}
        spellCheck={false}
        autoCapitalize="none"
        className="font-mono"
        onChange={({ target }) => setAddress(target.value)}
      />
      <Notice tone="info" title="What this breaks">
        <ul className="list-disc pl-5">
          <li>
            Its program: it comes in as {device.address}
            {device.presence === 'on-time' && ', and is heard just now'}. Until it is told the new address,
            the device is turned away.
          </li>
          <li>Topics of MQTT below sparrow/{device.address}, also where others subscribe to them.</li>
          <li>Links and bookmarks to this page, and programs that ask for it by its address.</li>
        </ul>
      </Notice>
      <p className="text-sm text-ink-soft">
        History, settings, shared links and its secret stay. The name alone can be changed with nothing
        breaking.
      </p>
    </SheetForm>
  )
}
