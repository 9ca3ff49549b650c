import type { Signal } from '@jaunty-sparrow/contract'
import { useId, useState } from 'react'
import { Button } from '../design/Button.tsx'
import { Notice } from '../design/Notice.tsx'
import { ConversionPreview } from './ConversionPreview.tsx'
import { useConversionTrialQuery } from './conversionApi.ts'
import { RecipeFinder } from './RecipeFinder.tsx'
import { useSettled } from './useSettled.ts'

/** Between two letters nobody waits for an answer, ms. */
const pause = 200

interface ConversionFieldProps {
  readonly signal: Signal
  /** Empty where it is sent in its unit. */
  readonly conversion: string
  /** The unit that is chosen beside it, UCUM code. */
  readonly unit: string
  readonly range: Signal['range']
  readonly onChange: (conversion: string) => void
  /** Called where the formula tells the unit as well. */
  readonly onUnit: (unit: string) => void
}

/** The formula that makes the unit of what is sent, with what it makes of the last messages while one types. */
export function ConversionField({ signal, conversion, unit, range, onChange, onUnit }: ConversionFieldProps) {
  const [isFinding, setFinding] = useState(false)
  const id = useId()
  const asked = useSettled(conversion, pause)
  const { data: trial } = useConversionTrialQuery({
    signalId: signal.id,
    conversion: asked.trim() === '' ? null : asked,
  })
  const problem = trial?.problem
  return (
    <fieldset className="grid min-w-0 gap-2">
      <legend className="mb-1.5 text-sm font-semibold">Conversion</legend>
      <label htmlFor={id} className="text-sm text-ink-soft">
        Its unit is made of what is sent, <code className="font-mono">x</code>, by this formula; leave it
        empty where it is sent in its unit.
      </label>
      <textarea
        id={id}
        rows={2}
        value={conversion}
        onChange={({ target }) => onChange(target.value.replaceAll('\n', ' '))}
        maxLength={500}
        spellCheck={false}
        autoCapitalize="none"
        aria-invalid={problem ? true : undefined}
        aria-describedby={`${id}-says`}
        placeholder="x"
        className="w-full rounded-md border border-rule-strong bg-sheet px-3 py-2 font-mono text-sm placeholder:text-ink-soft aria-invalid:border-trouble"
      />
      <div id={`${id}-says`} aria-live="polite" className="min-w-0">
        {problem && (
          <Notice tone="trouble" title={problem.problem}>
            <code className="block overflow-x-auto font-mono text-xs whitespace-pre">
              {asked}
              {'\n'}
              {' '.repeat(problem.at)}▲
            </code>
          </Notice>
        )}
      </div>
      {isFinding ? (
        <RecipeFinder
          onWrite={(formula, made) => {
            onChange(formula)
            if (made !== '') onUnit(made)
            setFinding(false)
          }}
          onClose={() => setFinding(false)}
        />
      ) : (
        <Button weight="quiet" className="-mx-3 justify-self-start" onClick={() => setFinding(true)}>
          Find a formula by what is on the table
        </Button>
      )}
      {trial && !problem && <ConversionPreview trial={trial} unit={unit} range={range} />}
    </fieldset>
  )
}
