import type { Signal, SignalSettings } from '@jaunty-sparrow/contract'
import { signalTitle } from '@jaunty-sparrow/core/signal'
import isEqual from 'lodash-es/isEqual.js'
import pickBy from 'lodash-es/pickBy.js'
import { useState } from 'react'
import { ControlFields } from '../commands/ControlFields.tsx'
import { ConversionField } from '../conversion/ConversionField.tsx'
import { Button } from '../design/Button.tsx'
import { ChoiceField, TextField } from '../design/Field.tsx'
import { Notice } from '../design/Notice.tsx'
import { SheetForm } from '../design/SheetForm.tsx'
import { RecomputeSheet } from '../recompute/RecomputeSheet.tsx'
import { UnitField } from '../units/UnitField.tsx'
import { FaultList } from './FaultList.tsx'
import { FieldPicker } from './FieldPicker.tsx'
import { StoringChoice } from './StoringChoice.tsx'
import { useChangeOwnSettingsMutation, useChangeSignalDefinitionMutation } from './signalsApi.ts'

interface SignalSheetProps {
  readonly signal: Signal
  readonly deviceId: number
  /** The other signals of its device, which conditions are about. */
  readonly others: readonly Signal[]
  /** The name of the kit when other devices share it. */
  readonly sharedKit: string | null
  readonly onClose: () => void
}

const numberOf = (text: string): number | null => (text.trim() === '' ? null : Number(text))

/** Says what a signal is: for all devices of its kit, or what this one has its own of. */
export function SignalSheet({ signal, deviceId, others, sharedKit, onClose }: SignalSheetProps) {
  const [name, setName] = useState(signal.name)
  const [field, setField] = useState(signal.field)
  const [storing, setStoring] = useState(signal.storing)
  const [unit, setUnit] = useState(signal.unit ?? '')
  const [low, setLow] = useState(String(signal.range.low ?? ''))
  const [high, setHigh] = useState(String(signal.range.high ?? ''))
  const [conversion, setConversion] = useState(signal.conversion ?? '')
  const [faults, setFaults] = useState(signal.faults)
  const [control, setControl] = useState(signal.control)
  const [isOwn, setOwn] = useState(false)
  const [isAnew, setAnew] = useState(false)
  const [change, changing] = useChangeSignalDefinitionMutation()
  const [changeOwn, changingOwn] = useChangeOwnSettingsMutation()
  const isNumber = signal.kind === 'number'
  const isControlled = signal.origin === 'controlled'
  const range = { low: numberOf(low), high: numberOf(high) }
  const settings: Partial<SignalSettings> = {
    storing,
    ...(isControlled && { control }),
    ...(isNumber && {
      unit: unit === '' ? null : unit,
      range,
      conversion: conversion.trim() === '' ? null : conversion.trim(),
      faults,
    }),
  }
  const save = async () => {
    const changed = pickBy(settings, (value, key) => !isEqual(value, signal[key as keyof SignalSettings]))
    if (!isOwn)
      await change({
        definitionId: signal.definitionId,
        body: { name, ...changed, ...(field !== signal.field && { field }) },
      }).unwrap()
    else if (Object.keys(changed).length > 0)
      await changeOwn({ signalId: signal.id, body: { set: changed } }).unwrap()
  }
  if (isAnew) return <RecomputeSheet signal={signal} onClose={onClose} />
  return (
    <SheetForm
      title={`Change ${signalTitle(signal)}`}
      saveLabel="Save"
      busy={changing.isLoading || changingOwn.isLoading}
      error={changing.error ?? changingOwn.error}
      onSave={save}
      onClose={onClose}
      wide={isNumber || isControlled}
      aside={
        isNumber && (
          <Button weight="quiet" className="-mx-3" onClick={() => setAnew(true)}>
            Make the past anew …
          </Button>
        )
      }
    >
      {sharedKit && (
        <ChoiceField
          label="It is said"
          value={isOwn ? 'own' : 'kit'}
          onChange={({ target }) => setOwn(target.value === 'own')}
        >
          <option value="kit">for every device of the kit “{sharedKit}”</option>
          <option value="own">for this device alone</option>
        </ChoiceField>
      )}
      <div className={isNumber ? 'grid items-start gap-4 sm:grid-cols-2' : 'contents'}>
        {!isOwn && (
          <TextField
            label="Name"
            value={name}
            onChange={(event) => setName(event.target.value)}
            required
            maxLength={80}
          />
        )}
        {isNumber && (
          <UnitField
            label="Unit"
            hint="Of its values: by symbol, name or code of UCUM."
            unit={unit}
            onChange={setUnit}
          />
        )}
      </div>
      {isNumber && (
        <div className="grid grid-cols-2 gap-3">
          <TextField
            label="Plausible from"
            type="number"
            step="any"
            value={low}
            onChange={({ target }) => setLow(target.value)}
          />
          <TextField
            label="to"
            type="number"
            step="any"
            value={high}
            onChange={({ target }) => setHigh(target.value)}
          />
        </div>
      )}
      {isNumber && (
        <ConversionField
          signal={signal}
          conversion={conversion}
          unit={unit}
          range={range}
          onChange={setConversion}
          onUnit={setUnit}
        />
      )}
      {isNumber && <FaultList signalId={signal.id} faults={faults} onChange={setFaults} />}
      {!isOwn && signal.part === '' && <FieldPicker deviceId={deviceId} field={field} onChange={setField} />}
      {field !== signal.field && (
        <Notice tone="info" title="From now on it is read from there">
          What is stored stays as it is; <em>Read again</em> on the page of the device reads the kept messages
          anew.
        </Notice>
      )}
      {isControlled && (
        <ControlFields signal={signal} others={others} control={control} onChange={setControl} />
      )}
      <StoringChoice signal={signal} storing={storing} onChange={setStoring} />
    </SheetForm>
  )
}
