import type { RuleMode, Signal } from '@jaunty-sparrow/contract'
import {
  type ClockMoment,
  type Comparison,
  pickedTerms,
  type Rule,
  type RuleClock,
} from '@jaunty-sparrow/core/rule'
import { lengthWords } from '@jaunty-sparrow/core/time'
import { unitSymbol } from '@jaunty-sparrow/core/units'
import { commandValue } from '../commands/commandWords.ts'
import { valueText } from '../language/valueText.ts'

/** Finds a signal, and what it is called together with its device. */
export type NameOf = (signalId: number) => { readonly signal: Signal; readonly name: string } | undefined

export const modeNames: Readonly<Record<RuleMode, string>> = {
  off: 'Off',
  trial: 'On trial',
  on: 'On',
}

/** How long something was, to be read at a glance. */
export function roughLength(seconds: number): string {
  if (seconds < 60) return `${Math.round(seconds)} s`
  if (seconds < 3600) return `${Math.round(seconds / 60)} min`
  const hours = Math.floor(seconds / 3600)
  const minutes = Math.round((seconds - hours * 3600) / 60)
  if (hours < 48) return minutes === 0 ? `${hours} h` : `${hours} h ${minutes} min`
  return `${(seconds / 86_400).toFixed(1)} days`
}

/** How a signal stands to a bound, in words. */
export function comparisonWords(is: Comparison, bound: number, signal: Signal | undefined): string {
  if (signal?.kind === 'switch') return (bound === 0) === (is === '==') ? 'is off' : 'is on'
  if (signal?.kind === 'choice')
    return `${is === '==' ? 'is' : 'is not'} ${signal ? valueText(bound, signal) : bound}`
  const unit = signal?.unit ? ` ${unitSymbol(signal.unit)}` : ''
  const words: Readonly<Record<Comparison, string>> = {
    '<': 'is below',
    '>': 'is above',
    '==': 'is',
    '!=': 'is not',
  }
  return `${words[is]} ${bound}${unit}`
}

/** What has to be the case, as a sentence goes on. */
function conditionWords(
  { formula, atLeast }: { readonly formula: string; readonly atLeast: number },
  inputs: Rule['inputs'],
  nameOf: NameOf,
): string {
  const picked = pickedTerms(formula)
  const signalOf = (name: string) => inputs.find((input) => input.name === name)?.signal ?? 0
  const says = picked
    ? picked.terms
        .map(({ name, is, bound }) => {
          const found = nameOf(signalOf(name))
          return `${found?.name ?? 'a signal that was deleted'} ${comparisonWords(is, bound, found?.signal)}`
        })
        .join(picked.join === '&&' ? ' and ' : ' or ')
    : formula
  return atLeast > 0 ? `${says} for at least ${lengthWords(atLeast)}` : says
}

export const dayNames = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']

/** A time of day as clocks show it. @param minutes after midnight */
export const timeOfDay = (minutes: number): string =>
  [Math.floor(minutes / 60), minutes % 60].map((part) => String(part).padStart(2, '0')).join(':')

const momentWords = ({ of, minutes }: ClockMoment): string => {
  if (of === 'midnight') return timeOfDay(minutes)
  if (minutes === 0) return of
  return `${lengthWords(Math.abs(minutes) * 60)} ${minutes > 0 ? 'after' : 'before'} ${of}`
}

function clockWords({ days, from, to }: RuleClock): string {
  const on =
    days.length === 7
      ? ''
      : ` on ${[...days]
          .sort((a, b) => a - b)
          .map((day) => dayNames[day - 1])
          .join(', ')}`
  return `from ${momentWords(from)} to ${momentWords(to)}${on}`
}

/** A rule as one sentence. */
export function ruleSentence(rule: Rule, target: Signal, nameOf: NameOf): string {
  const { when, until, clock, inputs } = rule
  const parts = [
    clock && `${when ? 'only ' : ''}${clockWords(clock)}`,
    when && `when ${conditionWords(when, inputs, nameOf)}`,
    until && `until ${conditionWords(until, inputs, nameOf)}`,
  ].filter(Boolean)
  const does = commandValue({ value: rule.value }, target)
  const rests =
    rule.otherwise === null ? '' : `, otherwise ${commandValue({ value: rule.otherwise }, target)}`
  return `${does} ${parts.join(', ')}${rests}`
}
