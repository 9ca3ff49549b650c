import type { Device, Signal } from '@jaunty-sparrow/contract'
import type { Derivation, DerivedInput } from '@jaunty-sparrow/core/signal'
import { unitsAgree } from '@jaunty-sparrow/core/units'
import lowerFirst from 'lodash-es/lowerFirst.js'
import { useState } from 'react'
import { ChoiceField, TextField } from '../design/Field.tsx'
import { SheetForm } from '../design/SheetForm.tsx'
import { useAddSignalDefinitionMutation } from '../kits/kitsApi.ts'
import { UnitField } from '../units/UnitField.tsx'
import { canFollowFrom } from './canFollowFrom.ts'
import { DerivationEditor } from './DerivationEditor.tsx'
import { type DerivedRecipe, derivedRecipes } from './derivedRecipes.ts'
import { ageFor } from './ofTake.ts'

interface DeriveSheetProps {
  readonly device: Device
  readonly onClose: () => void
}

/** Makes a signal that follows from others: picked, not typed, and seen before it is made. */
export function DeriveSheet({ device, onClose }: DeriveSheetProps) {
  const [recipe, setRecipe] = useState<DerivedRecipe>()
  const [derivation, setDerivation] = useState<Derivation>()
  const [name, setName] = useState('')
  const [unit, setUnit] = useState('')
  const [kind, setKind] = useState<'number' | 'switch'>('number')
  const [add, { isLoading, error }] = useAddSignalDefinitionMutation()
  const choose = (wanted: string) => {
    const chosen = derivedRecipes.find((one) => one.name === wanted)
    if (!chosen) return
    const inputs = inputsFor(chosen, device)
    setRecipe(chosen)
    setDerivation({ formula: chosen.formula, inputs })
    setUnit(chosen.unit(unitOf(inputs[0], device)))
    const [first] = chosen.wants
    setName(
      first?.unit === undefined ? `${nameOf(inputs[0], device)}: ${lowerFirst(chosen.name)}` : chosen.name,
    )
  }
  const save = async () => {
    if (!derivation) return
    const body = { field: '', name: name.trim(), kind, origin: 'derived', derivation } as const
    await add({
      kitId: device.kit.id,
      body: { ...body, ...(kind === 'number' && { unit: unit || null }) },
    }).unwrap()
  }
  const canDerive = device.signals.some(canFollowFrom)
  return (
    <SheetForm
      title="Derive a signal"
      saveLabel="Derive it"
      busy={isLoading || !derivation || name.trim() === ''}
      error={error}
      onSave={save}
      onClose={onClose}
      wide
    >
      {!canDerive && (
        <p className="text-ink-soft">
          The device has no accepted signal yet that something could follow from.
        </p>
      )}
      {canDerive && (
        <ChoiceField
          label="What do you want to know?"
          value={recipe?.name ?? ''}
          onChange={({ target }) => choose(target.value)}
        >
          <option value="" disabled>
            Choose …
          </option>
          {derivedRecipes.map((one) => (
            <option key={one.name}>{one.name}</option>
          ))}
        </ChoiceField>
      )}
      {recipe && derivation && (
        <>
          <DerivationEditor
            device={device}
            derivation={derivation}
            asks={recipe.wants.map(({ asks }) => asks)}
            unit={kind === 'number' ? unit : ''}
            onChange={setDerivation}
          />
          <div className="grid items-start gap-4 sm:grid-cols-3">
            <TextField
              label="Name"
              value={name}
              maxLength={80}
              required
              onChange={({ target }) => setName(target.value)}
            />
            <ChoiceField
              label="Kind"
              value={kind}
              onChange={({ target }) => setKind(target.value === 'switch' ? 'switch' : 'number')}
            >
              <option value="number">a number</option>
              <option value="switch">off or on</option>
            </ChoiceField>
            {kind === 'number' && <UnitField label="Unit" unit={unit} onChange={setUnit} />}
          </div>
          <p className="text-sm text-ink-soft">
            {reached(device)} Its past is worked out from the readings that are stored, and is worked out anew
            when one of them changes.
          </p>
        </>
      )}
    </SheetForm>
  )
}

const reached = ({ kit: { name } }: Device): string =>
  name === null ? '' : `Every device of the kit “${name}” gets it.`

const signalOf = (input: DerivedInput | undefined, { signals }: Device): Signal | undefined => {
  const of = input?.of
  return of && 'definition' in of
    ? signals.find(({ definitionId }) => definitionId === of.definition)
    : undefined
}

const unitOf = (input: DerivedInput | undefined, device: Device): string =>
  signalOf(input, device)?.unit ?? ''
const nameOf = (input: DerivedInput | undefined, device: Device): string =>
  signalOf(input, device)?.name ?? ''

/** The signals of the device that fit best: by their unit, and each only once where there are enough. */
function inputsFor({ wants }: DerivedRecipe, device: Device): DerivedInput[] {
  const usable = device.signals.filter(canFollowFrom)
  const taken = new Set<number>()
  return wants.flatMap(({ name, unit, take = { by: 'last' } }): DerivedInput[] => {
    const fits = (signal: Signal) =>
      unit === undefined || (signal.unit !== null && unitsAgree(signal.unit, unit))
    const isFree = ({ definitionId }: Signal) => !taken.has(definitionId)
    const found = usable.find((signal) => isFree(signal) && fits(signal)) ?? usable.find(isFree) ?? usable[0]
    if (!found) return []
    taken.add(found.definitionId)
    const cadence = found.cadence ?? device.cadence
    const seconds = cadence && 'seconds' in cadence ? cadence.seconds : null
    return [{ name, of: { definition: found.definitionId }, take, ageLimit: ageFor(seconds) }]
  })
}
