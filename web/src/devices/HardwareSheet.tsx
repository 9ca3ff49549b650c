import type { Device } from '@jaunty-sparrow/contract'
import { useState } from 'react'
import { CheckField } from '../design/Field.tsx'
import { SheetForm } from '../design/SheetForm.tsx'
import { useAppDispatch } from '../store.ts'
import { useReplaceHardwareMutation } from './devicesApi.ts'
import { secretTold } from './freshSecretSlice.ts'

/** Says that another board has taken the place of the one before. */
export function HardwareSheet({ device, onClose }: { device: Device; onClose: () => void }) {
  const dispatch = useAppDispatch()
  const [endCalibrations, setEnd] = useState(true)
  const [replace, { error, isLoading }] = useReplaceHardwareMutation()
  const save = async () => {
    const { secret } = await replace({ address: device.address, body: { endCalibrations } }).unwrap()
    dispatch(secretTold({ address: device.address, secret }))
  }
  return (
    <SheetForm
      title={`Replace the hardware of ${device.name}`}
      saveLabel="Replace it"
      busy={isLoading}
      error={error}
      onSave={save}
      onClose={onClose}
    >
      <p className="text-sm text-ink-soft">
        Address, history, settings and limits stay. The new board gets a secret of its own, shown once; the
        one of the board before is good no more. Doubts about its signals are taken back.
      </p>
      <CheckField
        label="Its corrections were of the board before"
        hint="They end now; what was measured until now stays corrected."
        checked={endCalibrations}
        onChange={({ target }) => setEnd(target.checked)}
      />
    </SheetForm>
  )
}
