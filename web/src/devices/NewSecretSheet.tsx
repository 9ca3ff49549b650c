import type { Device } from '@jaunty-sparrow/contract'
import { useState } from 'react'
import { problemText } from '../api/problemText.ts'
import { Button } from '../design/Button.tsx'
import { ChoiceField } from '../design/Field.tsx'
import { Notice } from '../design/Notice.tsx'
import { Sheet } from '../design/Sheet.tsx'
import { useAppDispatch } from '../store.ts'
import { useReplaceSecretMutation } from './devicesApi.ts'
import { secretTold } from './freshSecretSlice.ts'

/** Gives a device a new secret; the old one stops at once, or when there was time to flash the new one. */
export function NewSecretSheet({ device, onClose }: { device: Device; onClose: () => void }) {
  const dispatch = useAppDispatch()
  const [overlap, setOverlap] = useState('0')
  const [replace, { error, isLoading }] = useReplaceSecretMutation()
  const confirm = async () => {
    const { secret } = await replace({ address: device.address, overlap: Number(overlap) }).unwrap()
    dispatch(secretTold({ address: device.address, secret }))
    onClose()
  }
  return (
    <Sheet open onClose={onClose} title={`A new secret for ${device.name}?`}>
      <div className="grid gap-4">
        <ChoiceField
          label="The secret it has now"
          hint={
            overlap === '0'
              ? 'Until the new one is in its firmware, the device is turned away.'
              : 'Both are good meanwhile: put the new one into its firmware before the old one ends.'
          }
          value={overlap}
          onChange={({ target }) => setOverlap(target.value)}
        >
          <option value="0">stops at once</option>
          <option value="3600">is good for an hour yet</option>
          <option value="86400">is good for a day yet</option>
          <option value="604800">is good for a week yet</option>
        </ChoiceField>
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
