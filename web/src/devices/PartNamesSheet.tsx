import type { Device } from '@jaunty-sparrow/contract'
import { signalTitle } from '@jaunty-sparrow/core/signal'
import pickBy from 'lodash-es/pickBy.js'
import { useState } from 'react'
import { TextField } from '../design/Field.tsx'
import { SheetForm } from '../design/SheetForm.tsx'
import { valueText } from '../language/valueText.ts'
import { useChangeDeviceMutation } from './devicesApi.ts'

/** What people call the parts of a device: "top", and not 28-ff. */
export function PartNamesSheet({ device, onClose }: { device: Device; onClose: () => void }) {
  const [names, setNames] = useState<Readonly<Record<string, string>>>(device.partNames)
  const [change, { error, isLoading }] = useChangeDeviceMutation()
  const parts = [...new Set(device.signals.map(({ part }) => part).filter((part) => part !== ''))]
  const save = () =>
    change({
      address: device.address,
      body: { partNames: pickBy(names, (name) => name.trim() !== '') },
    }).unwrap()
  return (
    <SheetForm
      title={`The parts of ${device.name}`}
      saveLabel="Save"
      busy={isLoading}
      error={error}
      onSave={save}
      onClose={onClose}
    >
      {parts.length === 0 && (
        <p className="text-ink-soft">
          It has none: a signal whose field has a segment {'{part}'} stands for several like ones.
        </p>
      )}
      {parts.map((part) => (
        <TextField
          key={part}
          label={part}
          hint={device.signals
            .filter((signal) => signal.part === part && signal.latest)
            .map(
              (signal) =>
                `${signalTitle({ ...signal, partName: '' })} ${signal.latest ? valueText(signal.latest.value, signal) : ''}`,
            )
            .join(', ')}
          placeholder={part}
          maxLength={60}
          value={names[part] ?? ''}
          onChange={({ target }) => setNames({ ...names, [part]: target.value })}
        />
      ))}
    </SheetForm>
  )
}
