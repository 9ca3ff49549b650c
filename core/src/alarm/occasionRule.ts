import type { Rule } from '../rule/rule.ts'
import type { AlarmInput, Occasion, Suppression } from '../signal/alarm.ts'

/** What formulas call signals, and the numbers of those. */
export type FoundInputs = Rule['inputs']

const judged = (inputs: FoundInputs, when: Rule['when'], until: Rule['until']): Rule => ({
  inputs,
  when,
  until,
  clock: null,
  value: 1,
  otherwise: 0,
  leastOn: 0,
  leastOff: 0,
  mostAnHour: null,
  whenUnknown: 'stay',
  safeAfterAway: false,
})

/** An occasion over several signals, as what is judged: it acts while the alarm is. */
export const ruleOfOccasion = (
  { formula, atLeast }: Extract<Occasion, { by: 'formula' }>,
  inputs: FoundInputs,
): Rule => judged(inputs, { formula, atLeast }, null)

/** What suppresses an alarm, as what is judged: it acts while that holds, and for a while after. Who does not know suppresses nothing. */
export const ruleOfSuppression = ({ formula, after }: Suppression, inputs: FoundInputs): Rule => ({
  ...judged(inputs, { formula, atLeast: 0 }, { formula: `(${formula}) == 0`, atLeast: after }),
  whenUnknown: 'rest',
})

/**
 * Finds the signals that formulas are over.
 * @param named finds a signal of the same device by its name
 * @returns undefined where one of them is not there
 */
export function findInputs(
  inputs: readonly AlarmInput[],
  named: (name: string) => number | undefined,
): FoundInputs | undefined {
  const found = inputs.flatMap(({ name, of }) => {
    const signal = 'signal' in of ? of.signal : named(of.named)
    return signal === undefined ? [] : [{ name, signal }]
  })
  return found.length === inputs.length ? found : undefined
}
