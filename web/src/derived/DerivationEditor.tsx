import type { Device } from '@jaunty-sparrow/contract'
import { type Derivation, derivationProblem, mostInputs } from '@jaunty-sparrow/core/signal'
import { Plus } from 'lucide-react'
import { useId } from 'react'
import { problemText } from '../api/problemText.ts'
import { useSettled } from '../conversion/useSettled.ts'
import { Button } from '../design/Button.tsx'
import { Notice } from '../design/Notice.tsx'
import { useDevicesQuery } from '../devices/devicesApi.ts'
import { DerivationPreview } from './DerivationPreview.tsx'
import { useDerivationTrialQuery } from './derivedApi.ts'
import { InputRow } from './InputRow.tsx'

/** Between two letters nobody waits for an answer, ms. */
const pause = 250
/** What it comes to is looked at again so often, ms. */
const lookEvery = 5000

interface DerivationEditorProps {
  readonly device: Device
  readonly derivation: Derivation
  /** What is asked for, signal for signal, where something certain is wanted. */
  readonly asks?: readonly string[]
  /** UCUM code of what comes out. */
  readonly unit: string
  readonly onChange: (derivation: Derivation) => void
}

const names = [...'abcdefgh']

/** From which signals something follows, and how; what it comes to is shown while one edits. */
export function DerivationEditor({ device, derivation, asks = [], unit, onChange }: DerivationEditorProps) {
  const { data: devices = [] } = useDevicesQuery()
  const id = useId()
  const { formula, inputs } = derivation
  const asked = useSettled(derivation, pause)
  const problem = derivationProblem(asked)
  const { currentData: trial, error } = useDerivationTrialQuery(
    { address: device.address, derivation: asked },
    { skip: problem !== undefined, pollingInterval: lookEvery },
  )
  const others = devices.filter(({ address }) => address !== device.address)
  const free = names.find((name) => inputs.every((input) => input.name !== name))
  const add = () => {
    const [first] = inputs
    if (first && free)
      onChange({ formula, inputs: [...inputs, { ...first, name: free, take: { by: 'last' } }] })
  }
  return (
    <fieldset className="grid min-w-0 gap-3">
      <legend className="mb-1.5 text-sm font-semibold">It follows from</legend>
      {inputs.map((input, place) => (
        <InputRow
          // biome-ignore lint/suspicious/noArrayIndexKey: a row is what it is by its place, whatever is typed in it
          key={place}
          input={input}
          asks={asks[place] ?? 'Signal'}
          device={device}
          others={others}
          onChange={(changed) =>
            onChange({ formula, inputs: inputs.map((one, at) => (at === place ? changed : one)) })
          }
          onRemove={
            inputs.length > 1
              ? () => onChange({ formula, inputs: inputs.filter((_, at) => at !== place) })
              : undefined
          }
        />
      ))}
      {inputs.length < mostInputs && (
        <Button weight="quiet" className="-mx-3 justify-self-start" onClick={add}>
          <Plus aria-hidden="true" className="size-4" />
          One more signal
        </Button>
      )}
      <label htmlFor={id} className="text-sm font-semibold">
        Formula
      </label>
      <textarea
        id={id}
        rows={2}
        value={formula}
        maxLength={500}
        spellCheck={false}
        autoCapitalize="none"
        aria-invalid={problem ? true : undefined}
        aria-describedby={`${id}-says`}
        onChange={({ target }) => onChange({ inputs, formula: target.value.replaceAll('\n', ' ') })}
        className="w-full rounded-md border border-rule-strong bg-sheet px-3 py-2 font-mono text-sm aria-invalid:border-trouble"
      />
      <div id={`${id}-says`} aria-live="polite" className="min-w-0">
        {problem && <Notice tone="trouble" title={problem} />}
        {!problem && error && <Notice tone="trouble" title={problemText(error)} />}
        {!problem && trial && <DerivationPreview trial={trial} unit={unit} />}
      </div>
    </fieldset>
  )
}
