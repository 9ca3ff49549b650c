import type { Signal } from '@jaunty-sparrow/contract'
import { unitSymbol } from '@jaunty-sparrow/core'
import { ChoiceField, TextField } from '../design/Field.tsx'

type Keep = Signal['keep']

interface KeepChoiceProps {
  readonly signal: Signal
  readonly keep: Keep
  readonly onChange: (keep: Keep) => void
}

const starts: Record<Keep['by'], Keep> = {
  every: { by: 'every' },
  change: { by: 'change', deadband: 0, heartbeat: 600 },
  interval: { by: 'interval', seconds: 60, of: 'mean' },
}

/** Chooses which readings of a signal are stored. */
export function KeepChoice({ signal, keep, onChange }: KeepChoiceProps) {
  const unit = signal.unit ? `, ${unitSymbol(signal.unit)}` : ''
  return (
    <>
      <ChoiceField
        label="What is stored"
        hint="Live pages see every reading, whatever is stored."
        value={keep.by}
        onChange={({ target }) => onChange(starts[target.value as Keep['by']])}
      >
        <option value="every">every reading</option>
        <option value="change">what changes</option>
        {signal.kind === 'number' && <option value="interval">one for each interval</option>}
      </ChoiceField>
      {keep.by === 'change' && (
        <div className="grid grid-cols-2 gap-3">
          {signal.kind === 'number' && (
            <TextField
              label={`By more than${unit}`}
              type="number"
              min={0}
              step="any"
              value={keep.deadband}
              onChange={({ target }) => onChange({ ...keep, deadband: target.valueAsNumber || 0 })}
            />
          )}
          <TextField
            label="And at least every, seconds"
            type="number"
            min={1}
            max={86_400}
            value={keep.heartbeat}
            onChange={({ target }) => onChange({ ...keep, heartbeat: target.valueAsNumber || 1 })}
          />
        </div>
      )}
      {keep.by === 'interval' && (
        <div className="grid grid-cols-2 gap-3">
          <TextField
            label="Every, seconds"
            type="number"
            min={1}
            max={3600}
            step={1}
            value={keep.seconds}
            onChange={({ target }) => onChange({ ...keep, seconds: target.valueAsNumber || 1 })}
          />
          <ChoiceField
            label="Of it"
            value={keep.of}
            onChange={({ target }) => onChange({ ...keep, of: target.value as typeof keep.of })}
          >
            <option value="mean">the mean</option>
            <option value="range">lowest and highest</option>
            <option value="last">the last</option>
          </ChoiceField>
        </div>
      )}
    </>
  )
}
