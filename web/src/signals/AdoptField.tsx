import type { Device, LatestReading, Signal } from '@jaunty-sparrow/contract'
import { fieldLabel } from '@jaunty-sparrow/core/message'
import type { SignalKind } from '@jaunty-sparrow/core/signal'
import { signalTitle } from '@jaunty-sparrow/core/signal'
import { unitSymbol } from '@jaunty-sparrow/core/units'
import { problemText } from '../api/problemText.ts'
import { Notice } from '../design/Notice.tsx'
import { valueText } from '../language/valueText.ts'
import { useChangeSignalDefinitionMutation } from './signalsApi.ts'

interface AdoptFieldProps {
  readonly device: Device
  readonly field: string
  readonly kind: SignalKind
}

const nowOf = (signal: Signal, { value }: LatestReading): string =>
  `${valueText(value, signal)}${signal.unit ? ` ${unitSymbol(signal.unit)}` : ''}`

/** Lets a signal that is there be read from this field: for a name that was mistyped, or changed in the firmware. */
export function AdoptField({ device, field, kind }: AdoptFieldProps) {
  const [change, { error, isLoading }] = useChangeSignalDefinitionMutation()
  const candidates = device.signals.filter(
    (signal) =>
      signal.state === 'accepted' &&
      signal.origin !== 'derived' &&
      !signal.isFormer &&
      signal.kind === kind &&
      signal.field !== field,
  )
  if (candidates.length === 0) return null
  return (
    <>
      <select
        aria-label={`Read a signal from ${fieldLabel(field)}`}
        className="max-w-full rounded-md border border-rule-strong bg-sheet px-2 py-1.5 text-sm"
        value=""
        disabled={isLoading}
        onChange={({ target }) => void change({ definitionId: Number(target.value), body: { field } })}
      >
        <option value="">It is really …</option>
        {candidates.map((signal) => (
          <option key={signal.id} value={signal.definitionId}>
            {signalTitle(signal)}
            {signal.latest && ` (now ${nowOf(signal, signal.latest)})`}
          </option>
        ))}
      </select>
      {error && <Notice tone="trouble" title={problemText(error)} />}
    </>
  )
}
