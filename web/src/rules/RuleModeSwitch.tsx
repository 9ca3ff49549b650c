import { ruleModes, type Signal, type StandingRule } from '@jaunty-sparrow/contract'
import { usualControl } from '@jaunty-sparrow/core/signal'
import { problemText } from '../api/problemText.ts'
import { useMay } from '../people/useMay.ts'
import { useSwitchRuleMutation } from './rulesApi.ts'
import { modeNames } from './ruleWords.ts'

/** Whether a rule is obeyed, only says what it would do, or does nothing. */
export function RuleModeSwitch({ rule, signal }: { readonly rule: StandingRule; readonly signal: Signal }) {
  const [change, { isLoading, error }] = useSwitchRuleMutation()
  const may = useMay((signal.control ?? usualControl).role, rule.siteId)
  if (!may) return <span className="text-sm font-semibold">{modeNames[rule.mode]}</span>
  return (
    <div className="grid justify-items-end gap-1">
      <fieldset className="flex overflow-hidden rounded-md border border-rule-strong" disabled={isLoading}>
        <legend className="sr-only">Whether “{rule.name}” is on</legend>
        {ruleModes.map((mode) => (
          <label
            key={mode}
            className="flex min-h-9 cursor-pointer items-center border-l border-rule-strong px-3 text-sm first:border-l-0 has-checked:bg-ink has-checked:font-semibold has-checked:text-paper has-focus-visible:outline-2 has-focus-visible:outline-chestnut hover:not-has-checked:text-chestnut"
          >
            <input
              type="radio"
              className="sr-only"
              name={`mode-${rule.id}`}
              checked={rule.mode === mode}
              onChange={() => void change({ ruleId: rule.id, body: { mode } })}
            />
            {modeNames[mode]}
          </label>
        ))}
      </fieldset>
      {error && (
        <p role="alert" className="max-w-xs text-right text-sm font-semibold">
          {problemText(error)}
        </p>
      )}
    </div>
  )
}
