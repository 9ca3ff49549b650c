import type { Device } from '@jaunty-sparrow/contract'
import { Sheet } from '../design/Sheet.tsx'
import { ConstantsEditor } from '../kits/ConstantsEditor.tsx'
import { useKitQuery } from '../kits/kitsApi.ts'
import { useChangeDeviceMutation } from './devicesApi.ts'

/** The constants that a device has of its own, in the place of those of its kit. */
export function ConstantsSheet({ device, onClose }: { device: Device; onClose: () => void }) {
  const { data: kit } = useKitQuery(device.kit.id)
  const [change] = useChangeDeviceMutation()
  const ofKit = Object.entries(kit?.constants ?? {})
  return (
    <Sheet open title={`Constants of ${device.name}`} onClose={onClose}>
      <div className="grid gap-3">
        <p className="text-sm text-ink-soft">
          Numbers that the conversions of this device name.{' '}
          {ofKit.length > 0
            ? `Its kit says ${ofKit.map(([name, value]) => `${name} = ${value}`).join(', ')}; what is said here comes before.`
            : 'Its kit says none.'}
        </p>
        <ConstantsEditor
          constants={device.constants}
          onSave={(constants) =>
            change({ address: device.address, body: { constants } }).unwrap().then(onClose)
          }
        />
      </div>
    </Sheet>
  )
}
