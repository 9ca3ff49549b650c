import type { Device, Signal } from '@jaunty-sparrow/contract'
import {
  type Comparison,
  type Condition,
  formulaOf,
  type PickedTerm,
  pickedTerms,
  type Rule,
} from '@jaunty-sparrow/core/rule'
import { unitSymbol } from '@jaunty-sparrow/core/units'
import { X } from 'lucide-react'
import { useState } from 'react'
import { Button } from '../../design/Button.tsx'
import { ChoiceField, TextField } from '../../design/Field.tsx'
import { IconButton } from '../../design/IconButton.tsx'
import { latestOf } from '../../live/useLive.ts'
import { Value } from '../../live/Value.tsx'
import { PickSignals } from '../../pick/PickSignals.tsx'
import type { NameOf } from '../../rules/ruleWords.ts'
import { LengthField } from './LengthField.tsx'
import { NumberField } from './NumberField.tsx'
import { firstTerm, nameInFormulas } from './newRule.ts'

interface ConditionFieldsProps {
  readonly title: string
  /** What it says where nothing has to be the case. */
  readonly empty: string
  readonly condition: Condition | null
  readonly inputs: Rule['inputs']
  /** Whose signals may be looked at. */
  readonly devices: readonly Device[]
  readonly siteName: (siteId: number) => string
  readonly nameOf: NameOf
  /** What its length of time is called. */
  readonly lasts?: string
  readonly onChange: (condition: Condition | null, inputs: Rule['inputs']) => void
}

/** What has to be the case: signals that are picked, each against a bound. What cannot be picked is written as a formula. */
export function ConditionFields(props: ConditionFieldsProps) {
  const { title, empty, condition, inputs, devices, siteName, nameOf, onChange } = props
  const { lasts = 'for at least' } = props
  const [picking, setPicking] = useState(false)
  const picked = condition && pickedTerms(condition.formula)
  const put = (terms: readonly PickedTerm[], join: '&&' | '||', also: Rule['inputs'] = inputs) =>
    onChange(
      terms.length === 0 ? null : { formula: formulaOf({ join, terms }), atLeast: condition?.atLeast ?? 0 },
      also,
    )
  const add = (signals: readonly Signal[]) => {
    let also = inputs
    const terms = [...(picked?.terms ?? [])]
    for (const signal of signals) {
      const name = nameInFormulas(signal, also)
      if (!also.some((input) => input.name === name)) also = [...also, { name, signal: signal.id }]
      const said = latestOf(signal)?.value
      terms.push(firstTerm(signal, name, typeof said === 'number' ? said : undefined))
    }
    put(terms, picked?.join ?? '&&', also)
  }
  const atLeast = condition && (
    <LengthField
      label={lasts}
      seconds={condition.atLeast}
      onChange={(seconds) => onChange({ ...condition, atLeast: seconds }, inputs)}
    />
  )
  const signalOf = (name: string) => nameOf(inputs.find((input) => input.name === name)?.signal ?? 0)
  return (
    <fieldset className="grid gap-2">
      <legend className="mb-1 font-display text-base">{title}</legend>
      {!condition && <p className="text-sm text-ink-soft">{empty}</p>}
      {picked?.terms.map((term, place) => {
        const found = signalOf(term.name)
        const change = (next: PickedTerm) =>
          put(
            picked.terms.map((each, index) => (index === place ? next : each)),
            picked.join,
          )
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: a term is its place; nothing of it is kept elsewhere
          <div key={`${place} ${term.name}`} className="grid gap-1.5 border-l-2 border-rule-strong pl-3">
            <p className="flex flex-wrap items-center gap-x-1.5 text-sm">
              {place > 0 && (
                <button
                  type="button"
                  title="and, or"
                  className="rounded px-1 font-semibold text-chestnut hover:bg-well"
                  onClick={() => put(picked.terms, picked.join === '&&' ? '||' : '&&')}
                >
                  {picked.join === '&&' ? 'and' : 'or'}
                </button>
              )}
              <strong>{found?.name ?? 'a signal that was deleted'}</strong>
              <span className="text-ink-soft">now</span> {found && <Value signal={found.signal} />}
              <IconButton
                name={`Without ${found?.name ?? term.name}`}
                className="ml-auto p-1.5"
                onClick={() =>
                  put(
                    picked.terms.filter((_, index) => index !== place),
                    picked.join,
                  )
                }
              >
                <X aria-hidden="true" className="size-4" />
              </IconButton>
            </p>
            <div className="flex flex-wrap items-end gap-3">
              <Against term={term} signal={found?.signal} onChange={change} />
              {place === picked.terms.length - 1 && atLeast}
            </div>
          </div>
        )
      })}
      {condition && !picked && (
        <TextField
          label={`${title}, as a formula`}
          value={condition.formula}
          hint={`Of ${inputs.map(({ name }) => name).join(', ')}.`}
          onChange={({ target }) => onChange({ ...condition, formula: target.value }, inputs)}
        />
      )}
      {condition && !picked && atLeast}
      <div className="flex flex-wrap items-center gap-2">
        {(!condition || picked) && (
          <Button weight={condition ? 'quiet' : 'plain'} onClick={() => setPicking(true)}>
            {condition ? 'And something else' : 'Pick a signal'}
          </Button>
        )}
        {condition && picked && (
          <Button
            weight="quiet"
            onClick={() => onChange({ ...condition, formula: `(${condition.formula})` }, inputs)}
          >
            Write as a formula
          </Button>
        )}
        {condition && !picked && (
          <Button weight="quiet" onClick={() => onChange(null, inputs)}>
            Pick anew
          </Button>
        )}
      </div>
      {picking && (
        <PickSignals
          title={`${title} which signal`}
          devices={devices}
          siteName={siteName}
          onPick={add}
          onClose={() => setPicking(false)}
        />
      )}
    </fieldset>
  )
}

interface AgainstProps {
  readonly term: PickedTerm
  readonly signal: Signal | undefined
  readonly onChange: (term: PickedTerm) => void
}

/** What a signal is held against: a state, or a number in its unit. */
function Against({ term, signal, onChange }: AgainstProps) {
  if (signal?.kind === 'switch' || signal?.kind === 'choice') {
    const states =
      signal.kind === 'switch'
        ? [
            { code: 1, name: 'on' },
            { code: 0, name: 'off' },
          ]
        : signal.choices
    return (
      <div className="w-44">
        <ChoiceField
          label="is"
          value={`${term.is} ${term.bound}`}
          onChange={({ target }) => {
            const [is, bound] = target.value.split(' ')
            onChange({ ...term, is: is as Comparison, bound: Number(bound) })
          }}
        >
          {states.map(({ code, name }) => (
            <option key={code} value={`== ${code}`}>
              {name}
            </option>
          ))}
          {signal.kind === 'choice' &&
            states.map(({ code, name }) => (
              <option key={`not ${code}`} value={`!= ${code}`}>
                not {name}
              </option>
            ))}
        </ChoiceField>
      </div>
    )
  }
  return (
    <>
      <div className="w-28">
        <ChoiceField
          label="is"
          value={term.is}
          onChange={({ target }) => onChange({ ...term, is: target.value as Comparison })}
        >
          <option value="<">below</option>
          <option value=">">above</option>
        </ChoiceField>
      </div>
      <div className="w-28">
        <NumberField
          label={signal?.unit ? `Bound, ${unitSymbol(signal.unit)}` : 'Bound'}
          step="any"
          value={term.bound}
          onChange={(bound) => onChange({ ...term, bound })}
        />
      </div>
    </>
  )
}
