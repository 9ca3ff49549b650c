import type { Signal, SignalSettings } from '@jaunty-sparrow/contract'
import { usualControl } from '@jaunty-sparrow/core/signal'
import { CheckField, ChoiceField, TextField } from '../design/Field.tsx'
import { InterlockList } from './InterlockList.tsx'

type Stated = NonNullable<SignalSettings['control']>

interface ControlFieldsProps {
  readonly signal: Signal
  /** The other signals of its device, which conditions are about. */
  readonly others: readonly Signal[]
  readonly control: SignalSettings['control']
  readonly onChange: (control: Stated) => void
}

const numberOf = (text: string): number | null => (text.trim() === '' ? null : Number(text))

/** What may be asked of a controlled signal: by whom, how often, and when not. */
export function ControlFields({ signal, others, control, onChange }: ControlFieldsProps) {
  const stated: Stated = control ?? { ...usualControl, unless: [] }
  const change = (part: Partial<Stated>) => onChange({ ...stated, ...part })
  const isSwitch = signal.kind === 'switch'
  return (
    <fieldset className="grid gap-4 border-t border-rule pt-4">
      <legend className="sr-only">What may be asked of it</legend>
      <div className="grid items-start gap-4 sm:grid-cols-2">
        <ChoiceField
          label="Who may ask"
          value={stated.role}
          onChange={({ target }) => change({ role: target.value === 'owner' ? 'owner' : 'operator' })}
        >
          <option value="operator">operators and owners</option>
          <option value="owner">owners alone</option>
        </ChoiceField>
        <TextField
          label="Valid for, seconds"
          hint="Empty: as long as fits how its device speaks."
          type="number"
          min={1}
          value={String(stated.validFor ?? '')}
          onChange={({ target }) => change({ validFor: numberOf(target.value) })}
        />
        {signal.kind === 'number' && (
          <TextField
            label="In steps of"
            type="number"
            step="any"
            min={0}
            value={String(stated.step ?? '')}
            onChange={({ target }) => change({ step: numberOf(target.value) })}
          />
        )}
        {isSwitch && (
          <>
            <TextField
              label="Stays off for at least, seconds"
              type="number"
              min={0}
              value={String(stated.leastOff)}
              onChange={({ target }) => change({ leastOff: numberOf(target.value) ?? 0 })}
            />
            <TextField
              label="Stays on for at least, seconds"
              type="number"
              min={0}
              value={String(stated.leastOn)}
              onChange={({ target }) => change({ leastOn: numberOf(target.value) ?? 0 })}
            />
          </>
        )}
        <TextField
          label="At most so many times an hour"
          hint="Empty: as often as one likes."
          type="number"
          min={1}
          value={String(stated.mostAnHour ?? '')}
          onChange={({ target }) => change({ mostAnHour: numberOf(target.value) })}
        />
      </div>
      <CheckField
        label="It has to be held to confirm"
        checked={stated.holds}
        onChange={({ target }) => change({ holds: target.checked })}
      />
      <CheckField
        label="The board gets the bare value"
        hint="For firmware that reads no JSON: without number and end, so it cannot tell a late or repeated one."
        checked={stated.bare}
        onChange={({ target }) => change({ bare: target.checked })}
      />
      {signal.kind === 'momentary' && (
        <TextField
          label="Where it shuts its device down: how does that return?"
          hint="Empty where it does not. A device that was shut down is not late until it is heard again."
          placeholder="switch it on at its plug"
          maxLength={200}
          value={stated.shutsDown ?? ''}
          onChange={({ target }) => {
            const { shutsDown: _, ...rest } = stated
            onChange(target.value === '' ? rest : { ...rest, shutsDown: target.value })
          }}
        />
      )}
      {signal.kind === 'number' && (
        <CheckField
          label="It is how often its device speaks"
          hint="In a unit of time. What the device reports is then what it is expected to keep to."
          checked={stated.setsInterval ?? false}
          onChange={({ target }) => {
            const { setsInterval: _, ...rest } = stated
            onChange(target.checked ? { ...rest, setsInterval: true } : rest)
          }}
        />
      )}
      <InterlockList
        interlocks={stated.unless}
        others={others}
        onChange={(unless) => change({ unless: [...unless] })}
      />
    </fieldset>
  )
}
