import type { Device, Signal, SignalSettings } from '@jaunty-sparrow/contract'
import { signalTitle } from '@jaunty-sparrow/core/signal'
import isEqual from 'lodash-es/isEqual.js'
import pickBy from 'lodash-es/pickBy.js'
import { useState } from 'react'
import { ChoiceField, TextField } from '../design/Field.tsx'
import { SheetForm } from '../design/SheetForm.tsx'
import { useChangeOwnSettingsMutation, useChangeSignalDefinitionMutation } from '../signals/signalsApi.ts'
import { UnitField } from '../units/UnitField.tsx'
import { DerivationEditor } from './DerivationEditor.tsx'

interface ChangeDerivedSheetProps {
  readonly signal: Signal
  readonly device: Device
  readonly onClose: () => void
}

/** Says otherwise how a signal follows from others: for all devices of its kit, or for this one alone. */
export function ChangeDerivedSheet({ signal, device, onClose }: ChangeDerivedSheetProps) {
  const [name, setName] = useState(signal.name)
  const [unit, setUnit] = useState(signal.unit ?? '')
  const [derivation, setDerivation] = useState(signal.derivation)
  const [isOwn, setOwn] = useState(false)
  const [change, changing] = useChangeSignalDefinitionMutation()
  const [changeOwn, changingOwn] = useChangeOwnSettingsMutation()
  const isNumber = signal.kind === 'number'
  const save = async () => {
    const settings: Partial<SignalSettings> = { derivation, ...(isNumber && { unit: unit || null }) }
    const changed = pickBy(settings, (value, key) => !isEqual(value, signal[key as keyof SignalSettings]))
    if (!isOwn) await change({ definitionId: signal.definitionId, body: { name, ...changed } }).unwrap()
    else if (Object.keys(changed).length > 0)
      await changeOwn({ signalId: signal.id, body: { set: changed } }).unwrap()
  }
  return (
    <SheetForm
      title={`Change ${signalTitle(signal)}`}
      saveLabel="Save"
      busy={changing.isLoading || changingOwn.isLoading}
      error={changing.error ?? changingOwn.error}
      onSave={save}
      onClose={onClose}
      wide
    >
      {device.kit.name !== null && (
        <ChoiceField
          label="It is said"
          value={isOwn ? 'own' : 'kit'}
          onChange={({ target }) => setOwn(target.value === 'own')}
        >
          <option value="kit">for every device of the kit “{device.kit.name}”</option>
          <option value="own">for this device alone</option>
        </ChoiceField>
      )}
      <div className="grid items-start gap-4 sm:grid-cols-2">
        {!isOwn && (
          <TextField
            label="Name"
            value={name}
            required
            maxLength={80}
            onChange={({ target }) => setName(target.value)}
          />
        )}
        {isNumber && <UnitField label="Unit" unit={unit} onChange={setUnit} />}
      </div>
      {derivation && (
        <DerivationEditor
          device={device}
          derivation={derivation}
          unit={isNumber ? unit : ''}
          onChange={setDerivation}
        />
      )}
      <p className="text-sm text-ink-soft">
        With another formula its whole past is worked out anew; the readings it follows from stay as they are.
      </p>
    </SheetForm>
  )
}
