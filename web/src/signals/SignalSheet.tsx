import type { Signal } from '@jaunty-sparrow/contract'
import { units } from '@jaunty-sparrow/core'
import { useState } from 'react'
import { ChoiceField, TextField } from '../design/Field.tsx'
import { Notice } from '../design/Notice.tsx'
import { SheetForm } from '../design/SheetForm.tsx'
import { FieldPicker } from './FieldPicker.tsx'
import { KeepChoice } from './KeepChoice.tsx'
import { useChangeSignalDefinitionMutation } from './signalsApi.ts'

const quantities = [...new Set(units.map(({ quantity }) => quantity))]

interface SignalSheetProps {
  readonly signal: Signal
  readonly deviceId: number
  /** The name of the kit when other devices share it. */
  readonly sharedKit: string | null
  readonly onClose: () => void
}

/** Gives a signal its name and unit. */
export function SignalSheet({ signal, deviceId, sharedKit, onClose }: SignalSheetProps) {
  const [name, setName] = useState(signal.name)
  const [field, setField] = useState(signal.field)
  const [keep, setKeep] = useState(signal.keep)
  const [unit, setUnit] = useState(signal.unit ?? '')
  const [change, { error, isLoading }] = useChangeSignalDefinitionMutation()
  const save = () =>
    change({
      definitionId: signal.definitionId,
      body: { name, unit: unit === '' ? null : unit, keep, ...(field !== signal.field && { field }) },
    }).unwrap()
  return (
    <SheetForm
      title={`Change ${signal.name}`}
      saveLabel="Save"
      busy={isLoading}
      error={error}
      onSave={save}
      onClose={onClose}
    >
      <TextField
        label="Name"
        value={name}
        onChange={(event) => setName(event.target.value)}
        required
        maxLength={80}
      />
      {signal.kind === 'number' && (
        <ChoiceField
          label="Unit"
          hint="The unit in which the device sends."
          value={unit}
          onChange={(event) => setUnit(event.target.value)}
        >
          <option value="">none</option>
          {quantities.map((quantity) => (
            <optgroup key={quantity} label={quantity}>
              {units
                .filter((candidate) => candidate.quantity === quantity)
                .map(({ code, symbol }) => (
                  <option key={code} value={code}>
                    {symbol}
                  </option>
                ))}
            </optgroup>
          ))}
        </ChoiceField>
      )}
      <FieldPicker deviceId={deviceId} field={field} onChange={setField} />
      {field !== signal.field && (
        <Notice tone="info" title="From now on it is read from there">
          What is stored stays as it is; <em>Replay</em> on the page of the device reads the kept messages
          anew.
        </Notice>
      )}
      <KeepChoice signal={signal} keep={keep} onChange={setKeep} />
      {sharedKit && <Notice tone="info" title={`This reaches every device of the kit “${sharedKit}”.`} />}
    </SheetForm>
  )
}
