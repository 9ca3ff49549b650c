import type { Signal } from '@jaunty-sparrow/contract'
import type { SignalValue } from '@jaunty-sparrow/core/signal'
import { unitSymbol } from '@jaunty-sparrow/core/units'
import { ChoiceField, TextField } from '../../design/Field.tsx'
import { NumberField } from './NumberField.tsx'

interface WishFieldProps {
  readonly label: string
  readonly signal: Signal
  readonly value: SignalValue
  readonly onChange: (value: SignalValue) => void
}

/** What is asked of a signal: one of its states, a number in its range, or a text. */
export function WishField({ label, signal, value, onChange }: WishFieldProps) {
  const { kind, range, unit } = signal
  if (kind === 'switch' || kind === 'choice') {
    const states =
      kind === 'choice'
        ? signal.choices
        : [
            { code: 1, name: 'on' },
            { code: 0, name: 'off' },
          ]
    return (
      <ChoiceField
        label={label}
        value={String(value)}
        onChange={({ target }) => onChange(Number(target.value))}
      >
        {states.map(({ code, name }) => (
          <option key={code} value={code}>
            {name}
          </option>
        ))}
      </ChoiceField>
    )
  }
  if (kind === 'momentary') return <p className="pb-2 text-sm font-semibold">once</p>
  if (kind === 'text')
    return <TextField label={label} value={String(value)} onChange={({ target }) => onChange(target.value)} />
  return (
    <NumberField
      label={unit ? `${label}, ${unitSymbol(unit)}` : label}
      step={signal.control?.step ?? 'any'}
      min={range.low ?? undefined}
      max={range.high ?? undefined}
      value={Number(value)}
      onChange={onChange}
    />
  )
}
