import type { Signal } from '@jaunty-sparrow/contract'
import { usualControl } from '@jaunty-sparrow/core/signal'
import { useState } from 'react'
import { problemText } from '../api/problemText.ts'
import { Notice } from '../design/Notice.tsx'
import { useMay } from '../people/useMay.ts'
import { Choices } from './Choices.tsx'
import { useRequestCommandsMutation } from './commandsApi.ts'
import { HoldButton } from './HoldButton.tsx'
import { NumberSetter } from './NumberSetter.tsx'
import { Outcome } from './Outcome.tsx'
import { TextSetter } from './TextSetter.tsx'

interface ControlProps {
  readonly signal: Signal
  readonly siteId: number
  /** Whether what goes well is told elsewhere already. */
  readonly isCompact?: boolean
  /** When its device is awake again, epoch ms, where it sleeps. */
  readonly wakesAt?: number | undefined
}

/** What a controlled signal can be asked for, by whoever may; what it is stands elsewhere, and changes only when the device says so. */
export function Control({ signal, siteId, isCompact = false, wakesAt }: ControlProps) {
  const control = signal.control ?? usualControl
  const may = useMay(control.role, siteId)
  const [request, { isLoading, error }] = useRequestCommandsMutation()
  const [refused, setRefused] = useState<string>()
  if (!may || signal.isFormer || signal.origin !== 'controlled') return null
  const ask = (value: number | string) => {
    setRefused(undefined)
    request({ signals: [signal.id], value })
      .unwrap()
      .then(
        ([told]) => setRefused(told?.refused ?? undefined),
        // It is told below.
        () => undefined,
      )
  }
  const parts = { signal, holds: control.holds, busy: isLoading, ask }
  return (
    <div className="grid justify-items-start gap-1.5" data-control={signal.id}>
      {signal.kind === 'switch' && (
        <Choices
          {...parts}
          choices={[
            { code: 0, name: 'off' },
            { code: 1, name: 'on' },
          ]}
        />
      )}
      {signal.kind === 'choice' && <Choices {...parts} choices={signal.choices} />}
      {signal.kind === 'number' && <NumberSetter {...parts} step={control.step} />}
      {signal.kind === 'text' && <TextSetter {...parts} />}
      {signal.kind === 'momentary' && (
        <HoldButton disabled={isLoading} onHeld={() => ask(1)}>
          {signal.name}
        </HoldButton>
      )}
      {refused !== undefined && (
        <p role="alert" className="text-sm font-semibold text-ink">
          Not sent: {refused}
        </p>
      )}
      {error !== undefined && <Notice tone="trouble" title={problemText(error)} />}
      <Outcome signal={signal} onlyTrouble={isCompact} wakesAt={wakesAt} />
    </div>
  )
}
