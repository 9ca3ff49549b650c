import { fieldLabel } from '@jaunty-sparrow/core/message'
import { useState } from 'react'
import { useArrivalQuery, useArrivalsQuery } from '../arrivals/arrivalsApi.ts'
import { FieldTree } from '../arrivals/FieldTree.tsx'
import { TextField } from '../design/Field.tsx'
import { Skeleton } from '../design/Skeleton.tsx'

interface FieldPickerProps {
  readonly deviceId: number
  /** JSON Pointer. */
  readonly field: string
  readonly onChange: (field: string) => void
}

/** Chooses the field a signal is read from by clicking it in the newest message; typing works too. */
export function FieldPicker({ deviceId, field, onChange }: FieldPickerProps) {
  const { data: list } = useArrivalsQuery({ deviceId })
  // The message that was the newest at first is held: one that changes under the hand cannot be clicked.
  const newest = list?.arrivals.find(({ outcome }) => outcome === 'stored' || outcome === 'partly')
  const [held, setHeld] = useState<number>()
  if (held === undefined && newest) setHeld(newest.id)
  return (
    <fieldset className="grid gap-2">
      <legend className="mb-1.5 text-sm font-semibold">Read from</legend>
      {list && held === undefined && (
        <p className="text-sm text-ink-soft">No message of this device is kept to choose a field in.</p>
      )}
      {!list && <Skeleton className="h-20" />}
      {held !== undefined && <Message id={held} deviceId={deviceId} field={field} onChange={onChange} />}
      <TextField
        label="Field"
        value={fieldLabel(field)}
        onChange={({ target }) => onChange(`/${target.value.replaceAll('.', '/')}`)}
        hint="Click it above, or type it; a dot leads deeper."
        required
        maxLength={200}
        spellCheck={false}
        autoCapitalize="none"
        className="font-mono"
      />
    </fieldset>
  )
}

function Message({ id, deviceId, field, onChange }: FieldPickerProps & { id: number }) {
  const { data } = useArrivalQuery({ id, deviceId })
  if (!data) return <Skeleton className="h-20" />
  return (
    <div className="max-h-56 overflow-auto rounded-md border border-rule p-2">
      <FieldTree fields={data.explanation?.fields ?? []} picked={field} onPick={onChange} />
    </div>
  )
}
