import type { Device } from '@jaunty-sparrow/contract'
import { problemText } from '../api/problemText.ts'
import { Button } from '../design/Button.tsx'
import { Notice } from '../design/Notice.tsx'
import { Sheet } from '../design/Sheet.tsx'
import { useAppDispatch } from '../store.ts'
import { useReplaceSecretMutation } from './devicesApi.ts'
import { secretTold } from './freshSecretSlice.ts'

/** Asks before a device gets a new secret, since the old one stops at once. */
export function NewSecretSheet({ device, onClose }: { device: Device; onClose: () => void }) {
  const dispatch = useAppDispatch()
  const [replace, { error, isLoading }] = useReplaceSecretMutation()
  const confirm = async () => {
    const { secret } = await replace({ address: device.address }).unwrap()
    dispatch(secretTold({ address: device.address, secret }))
    onClose()
  }
  return (
    <Sheet open onClose={onClose} title={`A new secret for ${device.name}?`}>
      <div className="grid gap-4">
        <p>
          The secret it has now stops working at once: until the new one is in its firmware, the device is
          turned away.
        </p>
        {error && <Notice tone="trouble" title={problemText(error)} />}
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Keep the old one</Button>
          <Button weight="strong" disabled={isLoading} onClick={() => confirm().catch(() => undefined)}>
            Make a new secret
          </Button>
        </div>
      </div>
    </Sheet>
  )
}
