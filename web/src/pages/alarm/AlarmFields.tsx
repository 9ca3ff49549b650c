import type { Device, Signal } from '@jaunty-sparrow/contract'
import type { Condition, Rule } from '@jaunty-sparrow/core/rule'
import { type Alarm, type AlarmInput, type Priority, priorities } from '@jaunty-sparrow/core/signal'
import { unitSymbol } from '@jaunty-sparrow/core/units'
import { priorityWords } from '../../alarms/alarmWords.ts'
import { CheckField, ChoiceField, TextField } from '../../design/Field.tsx'
import { valueText } from '../../language/valueText.ts'
import { latestOf } from '../../live/useLive.ts'
import type { NameOf } from '../../rules/ruleWords.ts'
import { ConditionFields } from '../rule/ConditionFields.tsx'
import { LengthField } from '../rule/LengthField.tsx'
import { NumberField } from '../rule/NumberField.tsx'
import { type AlarmDraft, choiceOf, choicesFor, noLimits, occasionChoices, withOccasion } from './newAlarm.ts'

interface AlarmFieldsProps {
  readonly signal: Signal
  readonly device: Device
  /** Those of the same site. */
  readonly devices: readonly Device[]
  readonly siteName: string
  readonly draft: AlarmDraft
  readonly nameOf: NameOf
  readonly onChange: (draft: AlarmDraft) => void
}

/** All that is said of an alarm: what it is about, how urgent it is, and what whoever is woken by it reads. */
export function AlarmFields(props: AlarmFieldsProps) {
  const { signal, draft, onChange } = props
  const { alarm } = draft
  const put = (changes: Partial<Alarm>) => onChange({ ...draft, alarm: { ...alarm, ...changes } })
  const said = latestOf(signal)?.value
  return (
    <div className="grid gap-6">
      <fieldset className="grid gap-3">
        <legend className="mb-1 font-display text-base">It is raised when</legend>
        <ChoiceField
          label="the signal is"
          value={choiceOf(alarm.occasion)}
          onChange={({ target }) =>
            onChange(
              withOccasion(
                draft,
                target.value as keyof typeof occasionChoices,
                signal,
                typeof said === 'number' ? said : undefined,
              ),
            )
          }
        >
          {choicesFor(signal).map((choice) => (
            <option key={choice} value={choice}>
              {occasionChoices[choice]}
            </option>
          ))}
        </ChoiceField>
        <OccasionFields {...props} />
      </fieldset>
      <fieldset className="grid gap-3">
        <legend className="mb-1 font-display text-base">Whoever is woken by it reads</legend>
        <div className="flex flex-wrap gap-3">
          <div className="w-36">
            <ChoiceField
              label="Priority"
              value={alarm.priority}
              onChange={({ target }) => put({ priority: target.value as Priority })}
            >
              {priorities.map((each) => (
                <option key={each} value={each}>
                  {priorityWords[each]}
                </option>
              ))}
            </ChoiceField>
          </div>
          <div className="min-w-48 flex-1">
            <TextField
              label="because"
              placeholder="a batch is lost by it"
              maxLength={500}
              value={alarm.reason}
              onChange={({ target }) => put({ reason: target.value })}
            />
          </div>
        </div>
        <TextField
          label="What it comes of"
          placeholder="The fogger has stopped, or the door stands open"
          maxLength={500}
          value={alarm.cause}
          onChange={({ target }) => put({ cause: target.value })}
        />
        <TextField
          label="Why it matters"
          placeholder="The rinds crack"
          maxLength={500}
          value={alarm.consequence}
          onChange={({ target }) => put({ consequence: target.value })}
        />
        <TextField
          label="What to do"
          placeholder="Look whether the fogger runs; close the door"
          maxLength={500}
          value={alarm.response}
          onChange={({ target }) => put({ response: target.value })}
        />
        <LengthField
          label="Time to act"
          seconds={alarm.timeToAct ?? 0}
          onChange={(seconds) => put({ timeToAct: seconds === 0 ? null : seconds })}
        />
      </fieldset>
      <details
        className="border-t border-rule pt-3"
        open={alarm.unless !== null || alarm.isLatching || alarm.name !== ''}
      >
        <summary className="cursor-pointer text-sm font-semibold text-chestnut">
          Its name, when nobody has to know, and whether it stays
        </summary>
        <div className="mt-3 grid gap-4">
          <TextField
            label="What it is called"
            hint="Empty, it says what it is about."
            maxLength={80}
            value={alarm.name}
            onChange={({ target }) => put({ name: target.value })}
          />
          <SuppressionFields {...props} />
          <CheckField
            label="It stays after it is over, until somebody resets it"
            checked={alarm.isLatching}
            onChange={({ target }) => put({ isLatching: target.checked })}
          />
        </div>
      </details>
    </div>
  )
}

function OccasionFields(props: AlarmFieldsProps) {
  const { signal, draft, onChange } = props
  const { alarm, limits } = draft
  const { occasion } = alarm
  const unit = signal.unit ? `, ${unitSymbol(signal.unit)}` : ''
  const put = (changes: object) =>
    onChange({ ...draft, alarm: { ...alarm, occasion: { ...occasion, ...changes } as Alarm['occasion'] } })
  const atLeast = 'atLeast' in occasion && (
    <LengthField
      label="for at least"
      seconds={occasion.atLeast}
      onChange={(seconds) => put({ atLeast: seconds })}
    />
  )
  switch (occasion.by) {
    case 'limit': {
      const stated = limits ?? noLimits
      const putLimits = (changes: Partial<typeof stated>) =>
        onChange({ ...draft, limits: { ...stated, ...changes } })
      return (
        <>
          <div className="flex flex-wrap items-end gap-3">
            <div className="w-32">
              <NumberField
                label={`Limit${unit}`}
                step="any"
                value={stated[occasion.limit] ?? 0}
                onChange={(value) => putLimits({ [occasion.limit]: value })}
              />
            </div>
            <LengthField
              label="for at least"
              seconds={stated.onDelay}
              onChange={(onDelay) => putLimits({ onDelay })}
            />
          </div>
          <div className="flex flex-wrap items-end gap-3">
            <div className="w-32">
              <NumberField
                label={`Back by${unit}`}
                step="any"
                min={0}
                value={stated.deadband}
                onChange={(deadband) => putLimits({ deadband: Math.max(0, deadband) })}
              />
            </div>
            <LengthField
              label="and back for"
              seconds={stated.offDelay}
              onChange={(offDelay) => putLimits({ offDelay })}
            />
          </div>
          <p className="text-sm text-ink-soft">
            This is the limit of the signal itself: instruments, charts and the board go by it too.
          </p>
        </>
      )
    }
    case 'rate':
      return (
        <div className="flex flex-wrap items-end gap-3">
          <div className="w-36">
            <NumberField
              label={`By more than${unit}`}
              step="any"
              min={0}
              value={occasion.most}
              onChange={(most) => put({ most })}
            />
          </div>
          <LengthField
            label="within"
            seconds={occasion.over}
            onChange={(over) => put({ over: over || 60 })}
          />
        </div>
      )
    case 'silence':
      return (
        <div className="flex flex-wrap items-end gap-3">
          <div className="w-36">
            <ChoiceField
              label="It is"
              value={occasion.from}
              onChange={({ target }) => put({ from: target.value })}
            >
              <option value="silent">silent</option>
              <option value="late">late</option>
            </ChoiceField>
          </div>
          {atLeast}
        </div>
      )
    case 'fault':
      return atLeast || null
    case 'state': {
      const states = signal.kind === 'switch' ? [0, 1] : signal.choices.map(({ code }) => code)
      return (
        <div className="flex flex-wrap items-end gap-x-6 gap-y-3">
          <fieldset className="flex flex-wrap gap-x-4 gap-y-1 pb-2">
            <legend className="sr-only">in the state</legend>
            {states.map((code) => (
              <CheckField
                key={code}
                label={valueText(code, signal)}
                checked={occasion.values.includes(code)}
                onChange={({ target }) =>
                  put({
                    values: target.checked
                      ? [...occasion.values, code]
                      : occasion.values.filter((each) => each !== code),
                  })
                }
              />
            ))}
          </fieldset>
          {atLeast}
        </div>
      )
    }
    case 'formula':
      return (
        <OverSignals
          {...props}
          title="When"
          empty="Pick what has to be the case."
          condition={
            occasion.formula === '' ? null : { formula: occasion.formula, atLeast: occasion.atLeast }
          }
          inputs={occasion.inputs}
          onCondition={(condition, inputs) =>
            put({
              formula: condition?.formula ?? '',
              atLeast: condition?.atLeast ?? occasion.atLeast,
              inputs,
            })
          }
        />
      )
  }
}

function SuppressionFields(props: AlarmFieldsProps) {
  const { draft, onChange } = props
  const { alarm } = draft
  const { unless } = alarm
  const put = (next: Alarm['unless']) => onChange({ ...draft, alarm: { ...alarm, unless: next } })
  return (
    <div className="grid gap-3">
      <OverSignals
        {...props}
        title="Suppressed while"
        empty="Never. Pick a signal that says that this is meant to be: the hose runs, the cave is being aired."
        condition={unless && { formula: unless.formula, atLeast: unless.after }}
        inputs={unless?.inputs ?? []}
        lasts="and after that for"
        onCondition={(condition, inputs) =>
          put(
            condition && {
              says: unless?.says ?? 'that is meant to be',
              formula: condition.formula,
              inputs,
              after: condition.atLeast,
            },
          )
        }
      />
      {unless && (
        <TextField
          label="because"
          required
          maxLength={80}
          value={unless.says}
          onChange={({ target }) => put({ ...unless, says: target.value })}
        />
      )}
    </div>
  )
}

interface OverSignalsProps extends AlarmFieldsProps {
  readonly title: string
  readonly empty: string
  readonly condition: Condition | null
  readonly inputs: readonly AlarmInput[]
  readonly lasts?: string
  readonly onCondition: (condition: Condition | null, inputs: readonly AlarmInput[]) => void
}

/** A condition over signals: those of the same device go by their names, so that it holds for every device of the kit. */
function OverSignals(props: OverSignalsProps) {
  const { device, signal, devices, siteName, nameOf, title, empty, condition, inputs, lasts, onCondition } =
    props
  const ofDevice = device.signals.filter(({ isFormer }) => !isFormer)
  const named = (name: string) => {
    const so = ofDevice.filter((each) => each.name === name)
    return (so.find(({ part }) => part === signal.part) ?? so.find(({ part }) => part === ''))?.id
  }
  const found: Rule['inputs'] = inputs.flatMap(({ name, of }) => {
    const id = 'signal' in of ? of.signal : named(of.named)
    return id === undefined ? [] : [{ name, signal: id }]
  })
  return (
    <ConditionFields
      title={title}
      empty={empty}
      condition={condition}
      inputs={found}
      devices={devices}
      siteName={() => siteName}
      nameOf={nameOf}
      {...(lasts !== undefined && { lasts })}
      onChange={(next, also) =>
        onCondition(
          next,
          also
            .filter(({ name }) => next?.formula.includes(name))
            .map(({ name, signal: id }) => {
              const own = ofDevice.find((each) => each.id === id)
              return { name, of: own && named(own.name) === id ? { named: own.name } : { signal: id } }
            }),
        )
      }
    />
  )
}
