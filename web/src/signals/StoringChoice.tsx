import type { Signal } from '@jaunty-sparrow/contract'
import { unitSymbol } from '@jaunty-sparrow/core/units'
import { ChoiceField, TextField } from '../design/Field.tsx'

type StoringRule = Signal['storing']

interface StoringChoiceProps {
  readonly signal: Signal
  readonly storing: StoringRule
  readonly onChange: (storing: StoringRule) => void
}

const starts: Record<StoringRule['by'], StoringRule> = {
  every: { by: 'every' },
  change: { by: 'change', deadband: 0, heartbeat: 600 },
  interval: { by: 'interval', seconds: 60, of: 'mean' },
}

/** Chooses which readings of a signal are stored. */
export function StoringChoice({ signal, storing, onChange }: StoringChoiceProps) {
  const unit = signal.unit ? `, ${unitSymbol(signal.unit)}` : ''
  return (
    <>
      <ChoiceField
        label="What is stored"
        hint="Live pages see every reading, whatever is stored."
        value={storing.by}
        onChange={({ target }) => onChange(starts[target.value as StoringRule['by']])}
      >
        <option value="every">every reading</option>
        <option value="change">what changes</option>
        {signal.kind === 'number' && <option value="interval">one for each interval</option>}
      </ChoiceField>
      {storing.by === 'change' && (
        <div className="grid grid-cols-2 gap-3">
          {signal.kind === 'number' && (
            <TextField
              label={`By more than${unit}`}
              type="number"
              min={0}
              step="any"
              value={storing.deadband}
              onChange={({ target }) => onChange({ ...storing, deadband: target.valueAsNumber || 0 })}
            />
          )}
          <TextField
            label="And at least every, seconds"
            type="number"
            min={1}
            max={86_400}
            value={storing.heartbeat}
            onChange={({ target }) => onChange({ ...storing, heartbeat: target.valueAsNumber || 1 })}
          />
        </div>
      )}
      {storing.by === 'interval' && (
        <div className="grid grid-cols-2 gap-3">
          <TextField
            label="Every, seconds"
            type="number"
            min={1}
            max={3600}
            step={1}
            value={storing.seconds}
            onChange={({ target }) => onChange({ ...storing, seconds: target.valueAsNumber || 1 })}
          />
          <ChoiceField
            label="Of it"
            value={storing.of}
            onChange={({ target }) => onChange({ ...storing, of: target.value as typeof storing.of })}
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
