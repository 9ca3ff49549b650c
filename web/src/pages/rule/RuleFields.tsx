import type { Device, Signal, Site } from '@jaunty-sparrow/contract'
import { compileFormula } from '@jaunty-sparrow/core/formula'
import type { Condition, Rule, SafeState } from '@jaunty-sparrow/core/rule'
import { commandValue } from '../../commands/commandWords.ts'
import { CheckField, ChoiceField } from '../../design/Field.tsx'
import type { NameOf } from '../../rules/ruleWords.ts'
import { ClockFields } from './ClockFields.tsx'
import { ConditionFields } from './ConditionFields.tsx'
import { LengthField } from './LengthField.tsx'
import { WishField } from './WishField.tsx'

interface RuleFieldsProps {
  readonly signal: Signal
  readonly site: Site | undefined
  readonly devices: readonly Device[]
  readonly rule: Rule
  readonly nameOf: NameOf
  readonly onChange: (rule: Rule) => void
}

const usedIn = (condition: Condition | null): readonly string[] => {
  const read = condition && compileFormula(condition.formula)
  return read && !('problem' in read) ? read.constants : []
}

/** All that is said of a rule, in the order of a sentence: when, until, at which times, do, otherwise. */
export function RuleFields({ signal, site, devices, rule, nameOf, onChange }: RuleFieldsProps) {
  const put = (changes: Partial<Rule>) => onChange({ ...rule, ...changes })
  /** Signals that no condition names any more go. */
  const putCondition = (changes: Pick<Rule, 'inputs'> & Partial<Rule>) => {
    const next = { ...rule, ...changes }
    const isUnread = [next.when, next.until].some(
      (condition) => condition && 'problem' in compileFormula(condition.formula),
    )
    const used = new Set([...usedIn(next.when), ...usedIn(next.until)])
    onChange({ ...next, inputs: isUnread ? next.inputs : next.inputs.filter(({ name }) => used.has(name)) })
  }
  const parts = { inputs: rule.inputs, devices, nameOf, siteName: () => site?.name ?? '' }
  const does = commandValue({ value: rule.value }, signal)
  const rests =
    rule.otherwise === null
      ? 'leave it to others'
      : `ask for ${commandValue({ value: rule.otherwise }, signal)}`
  return (
    <div className="grid gap-6">
      <ConditionFields
        {...parts}
        title="When"
        empty={rule.clock ? 'Whenever it is the time.' : 'Pick what has to be the case; or say a time below.'}
        condition={rule.when}
        onChange={(when, inputs) => putCondition({ when, inputs })}
      />
      <ConditionFields
        {...parts}
        title="Until"
        empty="Until that is so no more. Pick another bound, and it does not flutter about the one above."
        condition={rule.until}
        onChange={(until, inputs) => putCondition({ until, inputs })}
      />
      <ClockFields clock={rule.clock} site={site} onChange={(clock) => put({ clock })} />
      <fieldset className="grid gap-2">
        <legend className="mb-1 font-display text-base">Do</legend>
        <div className="flex flex-wrap items-end gap-3">
          <div className="w-44">
            <WishField
              label="ask for"
              signal={signal}
              value={rule.value}
              onChange={(value) => put({ value })}
            />
          </div>
          {signal.kind !== 'momentary' && (
            <div className="w-44">
              <ChoiceField
                label="otherwise"
                value={rule.otherwise === null ? 'leave' : 'ask'}
                onChange={({ target }) =>
                  put(
                    target.value === 'leave'
                      ? {
                          otherwise: null,
                          ...(rule.whenUnknown === 'rest' && { whenUnknown: 'stay' as const }),
                        }
                      : { otherwise: signal.kind === 'text' ? '' : (signal.range.low ?? 0) },
                  )
                }
              >
                <option value="ask">ask for</option>
                <option value="leave">leave it as it is</option>
              </ChoiceField>
            </div>
          )}
          {rule.otherwise !== null && (
            <div className="w-44">
              <WishField
                label="otherwise ask for"
                signal={signal}
                value={rule.otherwise}
                onChange={(otherwise) => put({ otherwise })}
              />
            </div>
          )}
        </div>
      </fieldset>
      <details className="border-t border-rule pt-3" open={isUnusual(rule)}>
        <summary className="cursor-pointer text-sm font-semibold text-chestnut">
          How often, and what when nobody knows
        </summary>
        <div className="mt-3 grid gap-3">
          <div className="flex flex-wrap items-end gap-3">
            <LengthField
              label="acts at least"
              seconds={rule.leastOn}
              onChange={(leastOn) => put({ leastOn })}
            />
            <LengthField
              label="rests at least"
              seconds={rule.leastOff}
              onChange={(leastOff) => put({ leastOff })}
            />
            <div className="w-44">
              <ChoiceField
                label="begins in an hour"
                value={rule.mostAnHour ?? ''}
                onChange={({ target }) =>
                  put({ mostAnHour: target.value === '' ? null : Number(target.value) })
                }
              >
                <option value="">as often as it likes</option>
                {[...new Set([1, 2, 3, 4, 6, 10, 20, rule.mostAnHour ?? 1])]
                  .sort((a, b) => a - b)
                  .map((count) => (
                    <option key={count} value={count}>
                      {count === 1 ? 'once at most' : `${count} times at most`}
                    </option>
                  ))}
              </ChoiceField>
            </div>
          </div>
          {rule.inputs.length > 0 && (
            <div className="max-w-sm">
              <ChoiceField
                label="When a signal it looks at is late, silent or at fault"
                value={rule.whenUnknown}
                onChange={({ target }) => put({ whenUnknown: target.value as SafeState })}
              >
                {rule.otherwise !== null && <option value="rest">{rests}</option>}
                <option value="act">ask for {does}</option>
                <option value="stay">stay as it is</option>
              </ChoiceField>
            </div>
          )}
          {rule.inputs.length > 0 && (
            <CheckField
              label="The same after the server was away, until its signals are heard anew"
              checked={rule.safeAfterAway}
              onChange={({ target }) => put({ safeAfterAway: target.checked })}
            />
          )}
        </div>
      </details>
    </div>
  )
}

const isUnusual = ({ leastOn, leastOff, mostAnHour, safeAfterAway }: Rule) =>
  leastOn > 0 || leastOff > 0 || mostAnHour !== null || safeAfterAway
