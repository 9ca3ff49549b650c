import { ruleProblem } from '../rule/ruleProblem.ts'
import { type Alarm, alarmKeyPattern, longestAlarmTime, mostAlarms } from '../signal/alarm.ts'
import type { SignalDefinition } from '../signal/signal.ts'
import { ruleOfOccasion, ruleOfSuppression } from './occasionRule.ts'

const isKey = new RegExp(alarmKeyPattern)
const limitWords = { lowLow: 'low-low', low: 'low', high: 'high', highHigh: 'high-high' } as const

/** Says what in the alarms of a signal contradicts itself, in words; undefined when nothing does. */
export function alarmsProblem(
  alarms: readonly Alarm[],
  of: Pick<SignalDefinition, 'kind' | 'limits' | 'choices'>,
): string | undefined {
  if (alarms.length > mostAlarms) return `A signal has ${mostAlarms} alarms at most.`
  const keys = alarms.map(({ key }) => key)
  const twice = keys.find((key, place) => keys.indexOf(key) < place)
  if (twice !== undefined) return `Two alarms are known by "${twice}".`
  for (const alarm of alarms) {
    const problem = isKey.test(alarm.key)
      ? (occasionProblem(alarm, of) ?? suppressionProblem(alarm))
      : `"${alarm.key}" cannot be what an alarm is known by: take small letters, digits and -.`
    if (problem !== undefined) return alarm.name === '' ? problem : `${alarm.name}: ${problem}`
  }
  return undefined
}

function occasionProblem(
  { occasion, timeToAct }: Alarm,
  { kind, limits, choices }: Pick<SignalDefinition, 'kind' | 'limits' | 'choices'>,
): string | undefined {
  const times = [
    'atLeast' in occasion ? occasion.atLeast : 0,
    'over' in occasion ? occasion.over : 0,
    timeToAct ?? 0,
  ]
  if (times.some((each) => !(each >= 0 && each <= longestAlarmTime)))
    return 'Each of its times is at most a week.'
  switch (occasion.by) {
    case 'limit':
      return (limits?.[occasion.limit] ?? null) === null
        ? `It is about the ${limitWords[occasion.limit]} limit, and none is stated.`
        : undefined
    case 'rate':
      if (kind !== 'number') return 'Only a number can change too fast.'
      return occasion.most > 0 && occasion.over > 0
        ? undefined
        : 'How far it may change, and within which time, are more than 0.'
    case 'state': {
      if (kind !== 'switch' && kind !== 'choice') return 'Only a switch or a choice has states.'
      const codes = kind === 'switch' ? [0, 1] : choices.map(({ code }) => code)
      if (occasion.values.length === 0) return 'Pick a state at least.'
      const unknown = occasion.values.find((value) => !codes.includes(value))
      return unknown === undefined ? undefined : `There is no state with the code ${unknown}.`
    }
    case 'formula':
      return ruleProblem(ruleOfOccasion(occasion, placeholders(occasion.inputs)))
    case 'silence':
    case 'fault':
      return undefined
  }
}

function suppressionProblem({ unless }: Alarm): string | undefined {
  if (!unless) return undefined
  if (!(unless.after >= 0 && unless.after <= longestAlarmTime)) return 'Each of its times is at most a week.'
  const problem = ruleProblem(ruleOfSuppression(unless, placeholders(unless.inputs)))
  return problem && `Suppressed while ${unless.says}: ${problem}`
}

/** Which signals they are does not matter to whether formulas can be understood. */
const placeholders = (inputs: readonly { readonly name: string }[]) =>
  inputs.map(({ name }, place) => ({ name, signal: place + 1 }))
