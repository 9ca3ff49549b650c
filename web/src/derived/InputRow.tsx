import type { Device, Signal } from '@jaunty-sparrow/contract'
import { takings } from '@jaunty-sparrow/core/derived'
import {
  type DerivedInput,
  type SignalReference,
  signalTitle,
  type Take,
  takeNames,
} from '@jaunty-sparrow/core/signal'
import { unitSymbol } from '@jaunty-sparrow/core/units'
import { X } from 'lucide-react'
import { Button } from '../design/Button.tsx'
import { ChoiceField, TextField } from '../design/Field.tsx'
import { valueText } from '../language/valueText.ts'
import { canFollowFrom } from './canFollowFrom.ts'
import { ages, reaches, takenBy, timeUnits } from './ofTake.ts'

interface InputRowProps {
  readonly input: DerivedInput
  /** What it is, where something certain is asked for. */
  readonly asks: string
  readonly device: Device
  /** Other devices whose signals may be taken too. */
  readonly others: readonly Device[]
  readonly onChange: (input: DerivedInput) => void
  readonly onRemove: (() => void) | undefined
}

const keyOf = (of: SignalReference): string =>
  'definition' in of ? `definition ${of.definition}` : `signal ${of.signal}`

const referenceOf = (key: string): SignalReference => {
  const [which, number] = key.split(' ')
  return which === 'definition' ? { definition: Number(number) } : { signal: Number(number) }
}

const now = (signal: Signal): string =>
  signal.latest
    ? ` · ${valueText(signal.latest.value, signal)}${signal.unit ? ` ${unitSymbol(signal.unit)}` : ''}`
    : ''

/** One of the signals that a derived one follows from: picked with its value, how it is taken, how old it may be. */
export function InputRow({ input, asks, device, others, onChange, onRemove }: InputRowProps) {
  const { take } = input
  const own = device.signals.filter(canFollowFrom)
  const firstOfEach = own.filter(
    ({ definitionId }, place) => own.findIndex((one) => one.definitionId === definitionId) === place,
  )
  return (
    <div className="grid grid-cols-2 items-end gap-x-3 gap-y-2 border-t border-rule pt-3 sm:grid-cols-4">
      <div className="col-span-2">
        <ChoiceField
          label={asks}
          value={keyOf(input.of)}
          onChange={({ target }) => onChange({ ...input, of: referenceOf(target.value) })}
        >
          <optgroup label={device.name}>
            {firstOfEach.map((signal) => (
              <option key={signal.id} value={keyOf({ definition: signal.definitionId })}>
                {signal.part === '' ? signal.name : `${signal.name}, for each`}
                {now(signal)}
              </option>
            ))}
          </optgroup>
          {others.map((other) => (
            <optgroup key={other.id} label={other.name}>
              {other.signals.filter(canFollowFrom).map((signal) => (
                <option key={signal.id} value={keyOf({ signal: signal.id })}>
                  {signalTitle(signal)}
                  {now(signal)}
                </option>
              ))}
            </optgroup>
          ))}
        </ChoiceField>
      </div>
      <ChoiceField
        label="Taken of it"
        value={take.by}
        onChange={({ target }) => onChange({ ...input, take: takenBy(target.value as Take['by'], take) })}
      >
        {takeNames.map((name) => (
          <option key={name} value={name}>
            {takings[name].says}
          </option>
        ))}
      </ChoiceField>
      {'over' in take ? (
        <ChoiceField
          label="Over"
          value={String(take.over)}
          onChange={({ target }) =>
            onChange({
              ...input,
              take: { ...take, over: target.value === 'day' ? 'day' : Number(target.value) },
            })
          }
        >
          {withOwn(reaches, take.over).map(([reach, words]) => (
            <option key={reach} value={reach}>
              {words}
            </option>
          ))}
        </ChoiceField>
      ) : (
        <span className="max-sm:hidden" />
      )}
      {'per' in take && (
        <ChoiceField
          label="In"
          value={take.per}
          onChange={({ target }) =>
            onChange({ ...input, take: { ...take, per: target.value as (typeof timeUnits)[number] } })
          }
        >
          {timeUnits.map((unit) => (
            <option key={unit} value={unit}>
              {take.by === 'rate' || take.by === 'counterRate' ? `each ${unit}` : unit}
            </option>
          ))}
        </ChoiceField>
      )}
      {'bound' in take && (
        <TextField
          label="Above"
          type="number"
          step="any"
          value={String(take.bound)}
          onChange={({ target }) =>
            onChange({ ...input, take: { ...take, bound: target.valueAsNumber || 0 } })
          }
        />
      )}
      {'wrapsAt' in take && (
        <TextField
          label="Begins again at"
          type="number"
          step="any"
          min={1}
          placeholder="never"
          value={String(take.wrapsAt ?? '')}
          onChange={({ target }) =>
            onChange({ ...input, take: { ...take, wrapsAt: target.valueAsNumber || null } })
          }
        />
      )}
      <ChoiceField
        label="At most old"
        value={String(input.ageLimit)}
        onChange={({ target }) => onChange({ ...input, ageLimit: Number(target.value) })}
      >
        {withOwn(ages, input.ageLimit).map(([seconds, words]) => (
          <option key={seconds} value={seconds}>
            {words}
          </option>
        ))}
      </ChoiceField>
      <TextField
        label="Called in the formula"
        value={input.name}
        maxLength={40}
        spellCheck={false}
        autoCapitalize="none"
        className="font-mono"
        onChange={({ target }) => onChange({ ...input, name: target.value })}
      />
      {onRemove && (
        <Button weight="quiet" className="justify-self-start" onClick={onRemove}>
          <X aria-hidden="true" className="size-4" />
          Leave out
        </Button>
      )}
    </div>
  )
}

/** What is usual, and what was stated otherwise. */
const withOwn = <T extends number | string>(usual: readonly (readonly [T, string])[], own: T) =>
  usual.some(([value]) => value === own) ? usual : [...usual, [own, `${own} s`] as const]
