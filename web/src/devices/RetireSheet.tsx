import type { Device } from '@jaunty-sparrow/contract'
import { SheetForm } from '../design/SheetForm.tsx'
import { useChangeDeviceMutation } from './devicesApi.ts'

/** Takes a device out of service; what it said stays. */
export function RetireSheet({ device, onClose }: { device: Device; onClose: () => void }) {
  const [change, { error, isLoading }] = useChangeDeviceMutation()
  return (
    <SheetForm
      title={`Retire ${device.name}?`}
      saveLabel="Retire it"
      busy={isLoading}
      error={error}
      onSave={() => change({ address: device.address, body: { isRetired: true } }).unwrap()}
      onClose={onClose}
    >
      <p>
        From now on nothing is taken of it, and it is missed no more. All it ever said stays to be looked back
        at, and it can be taken back into service at any time, with the secret it has.
      </p>
    </SheetForm>
  )
}
