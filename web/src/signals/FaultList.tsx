import type { Signal } from '@jaunty-sparrow/contract'
import { Plus, X } from 'lucide-react'
import { Button } from '../design/Button.tsx'

import { useProposedFaultsQuery } from './signalsApi.ts'

type Faults = Signal['faults']

interface FaultListProps {
  readonly signalId: number
  readonly faults: Faults
  readonly onChange: (faults: Faults) => void
}

const inputLook = 'min-h-9 rounded-md border border-rule-strong bg-sheet px-2 text-sm'

/** Values that mean that the sensor is at fault, as they are sent, with what each is called. */
export function FaultList({ signalId, faults, onChange }: FaultListProps) {
  const change = (place: number, changed: Partial<Faults[number]>) =>
    onChange(faults.map((fault, at) => (at === place ? { ...fault, ...changed } : fault)))
  const { data: proposed = [] } = useProposedFaultsQuery(signalId)
  const fresh = proposed.filter(({ value }) => faults.every((fault) => fault.value !== value))
  return (
    <fieldset className="grid gap-2">
      <legend className="mb-1.5 text-sm font-semibold">Values that mean a fault</legend>
      <p className="text-sm text-ink-soft">
        As they are sent: 85 after power-on, −127 with the wire off. They are shown by name and count nowhere
        else.
      </p>
      {faults.map(({ value, name }, place) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: both of its parts are being typed
        <div key={place} className="grid grid-cols-[6rem_1fr_auto] gap-2">
          <input
            aria-label={`Fault value ${place + 1}`}
            type="number"
            step="any"
            required
            className={inputLook}
            value={Number.isNaN(value) ? '' : value}
            onChange={({ target }) => change(place, { value: target.valueAsNumber })}
          />
          <input
            aria-label={`What fault ${place + 1} is called`}
            required
            maxLength={60}
            className={inputLook}
            value={name}
            placeholder="just powered on"
            onChange={({ target }) => change(place, { name: target.value })}
          />
          <Button
            weight="quiet"
            aria-label={`Remove fault ${place + 1}`}
            onClick={() => onChange(faults.filter((_, at) => at !== place))}
          >
            <X aria-hidden="true" className="size-4" />
          </Button>
        </div>
      ))}
      {fresh.map(({ value, name, times }) => (
        <p key={value} className="flex flex-wrap items-center gap-x-2 rounded-md bg-well px-3 py-1 text-sm">
          <span className="flex-1">
            <strong className="tabular-nums">{value}</strong> came {times === 1 ? 'once' : `${times} times`}:{' '}
            {name}?
          </span>
          <Button
            weight="quiet"
            disabled={faults.length >= 12}
            onClick={() => onChange([...faults, { value, name }])}
          >
            Take it for a fault
          </Button>
        </p>
      ))}
      {faults.length < 12 && (
        <Button
          weight="quiet"
          className="-mx-3 justify-self-start"
          onClick={() => onChange([...faults, { value: Number.NaN, name: '' }])}
        >
          <Plus aria-hidden="true" className="size-4" />
          Add one
        </Button>
      )}
    </fieldset>
  )
}
