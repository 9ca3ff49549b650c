import type { UnitChoices } from '@jaunty-sparrow/contract'
import { isUnit, measureOf, unitSymbol } from '@jaunty-sparrow/core/units'
import { Plus, X } from 'lucide-react'
import { useState } from 'react'
import { Button } from '../design/Button.tsx'
import { UnitField } from './UnitField.tsx'

interface UnitChoicesEditorProps {
  readonly choices: UnitChoices
  readonly onChange: (choices: UnitChoices) => void
}

/** Says which unit is shown in which other: °C in °F. What is stored stays in the unit of its signal. */
export function UnitChoicesEditor({ choices, onChange }: UnitChoicesEditorProps) {
  const [isAdding, setAdding] = useState(false)
  return (
    <div className="grid gap-2">
      {choices.length > 0 && (
        <ul className="divide-y divide-rule border-y border-rule">
          {choices.map(({ unit, as }) => (
            <li key={unit} className="flex min-h-11 items-center gap-2">
              <span className="flex-1">
                {unitSymbol(unit)} <span className="text-ink-soft">is shown in</span> {unitSymbol(as)}
              </span>
              <Button
                weight="quiet"
                aria-label={`Show ${unitSymbol(unit)} as it is`}
                onClick={() => onChange(choices.filter((choice) => choice.unit !== unit))}
              >
                <X aria-hidden="true" className="size-4" />
              </Button>
            </li>
          ))}
        </ul>
      )}
      {isAdding ? (
        <NewChoice
          onAdd={(added) => {
            onChange([...choices.filter(({ unit }) => unit !== added.unit), added])
            setAdding(false)
          }}
          onCancel={() => setAdding(false)}
        />
      ) : (
        <Button weight="quiet" className="-mx-3 justify-self-start" onClick={() => setAdding(true)}>
          <Plus aria-hidden="true" className="size-4" />
          Show a unit in another one
        </Button>
      )}
    </div>
  )
}

interface NewChoiceProps {
  readonly onAdd: (choice: UnitChoices[number]) => void
  readonly onCancel: () => void
}

function NewChoice({ onAdd, onCancel }: NewChoiceProps) {
  const [unit, setUnit] = useState('')
  const [as, setAs] = useState('')
  const dimension = isUnit(unit) ? measureOf(unit).dimension : undefined
  const compares = ({ code }: { readonly code: string }) =>
    code !== unit && isUnit(code) && measureOf(code).dimension === dimension
  return (
    <div className="grid gap-2 rounded-md bg-well p-3">
      <div className="grid grid-cols-2 gap-3">
        <UnitField
          label="What is in"
          unit={unit}
          onChange={(chosen) => {
            setUnit(chosen)
            setAs('')
          }}
        />
        <UnitField label="is shown in" unit={as} onChange={setAs} allowed={compares} />
      </div>
      <div className="flex gap-2">
        <Button disabled={unit === '' || as === ''} onClick={() => onAdd({ unit, as })}>
          Show it so
        </Button>
        <Button weight="quiet" onClick={onCancel}>
          Cancel
        </Button>
      </div>
    </div>
  )
}
