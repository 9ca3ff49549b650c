import { signalTitle } from '@jaunty-sparrow/core/signal'
import { unitSymbol } from '@jaunty-sparrow/core/units'
import { useId, useState } from 'react'
import { Button } from '../design/Button.tsx'
import { valueText } from '../language/valueText.ts'
import { useLatest } from '../live/useLive.ts'
import { HoldButton } from './HoldButton.tsx'
import type { SetterParts } from './setterParts.ts'

/** A number along its range; it is asked for when it was chosen, not on the way there. */
export function NumberSetter({
  signal,
  holds,
  busy,
  ask,
  step,
}: SetterParts & { readonly step: number | null }) {
  const id = useId()
  const latest = useLatest(signal)
  const [chosen, setChosen] = useState<string>()
  const { low, high } = signal.range
  const now = typeof latest?.value === 'number' ? latest.value : (low ?? 0)
  const value = chosen ?? String(now)
  const wanted = Number(value)
  const unit = signal.unit ? ` ${unitSymbol(signal.unit)}` : ''
  const bounds = {
    min: low ?? undefined,
    max: high ?? undefined,
    step: step ?? 'any',
    value,
    onChange: ({ target }: { target: HTMLInputElement }) => setChosen(target.value),
  }
  const send = () => {
    ask(wanted)
    setChosen(undefined)
  }
  const says = `Set to ${Number.isFinite(wanted) ? valueText(wanted, signal) : '…'}${unit}`
  const isOff = busy || chosen === undefined || value === '' || !Number.isFinite(wanted)
  return (
    <fieldset className="flex w-full max-w-md flex-wrap items-center gap-2">
      <legend className="sr-only">Set {signalTitle(signal)}</legend>
      {low !== null && high !== null && (
        <input
          type="range"
          aria-label={`${signalTitle(signal)}, to be asked for`}
          className="min-w-24 flex-1 accent-chestnut"
          {...bounds}
          step={step ?? (high - low) / 100}
        />
      )}
      <label htmlFor={id} className="sr-only">
        {signalTitle(signal)}
        {unit}
      </label>
      <input
        id={id}
        type="number"
        className="w-20 rounded-md border border-rule-strong bg-sheet px-2 py-1.5 text-sm"
        {...bounds}
      />
      {holds ? (
        <HoldButton disabled={isOff} onHeld={send}>
          {says}
        </HoldButton>
      ) : (
        <Button disabled={isOff} onClick={send}>
          {says}
        </Button>
      )}
    </fieldset>
  )
}
