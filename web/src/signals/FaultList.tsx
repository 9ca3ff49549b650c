import type { Signal } from '@jaunty-sparrow/contract'
import { Plus, X } from 'lucide-react'
import { Button } from '../design/Button.tsx'

type Faults = Signal['faults']

interface FaultListProps {
  readonly faults: Faults
  readonly onChange: (faults: Faults) => void
}

const inputLook = 'min-h-9 rounded-md border border-rule-strong bg-sheet px-2 text-sm'

/** Values that mean that the sensor is at fault, as they are sent, with what each is called. */
export function FaultList({ faults, onChange }: FaultListProps) {
  const change = (place: number, changed: Partial<Faults[number]>) =>
    onChange(faults.map((fault, at) => (at === place ? { ...fault, ...changed } : fault)))
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
