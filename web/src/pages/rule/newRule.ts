import type { Signal } from '@jaunty-sparrow/contract'
import { functions, namedNumbers } from '@jaunty-sparrow/core/formula'
import type { PickedTerm, Rule } from '@jaunty-sparrow/core/rule'

/** What a rule for a signal is until somebody says more. */
export function newRule({ kind, choices, range }: Signal): Rule {
  const value =
    kind === 'choice'
      ? (choices[0]?.code ?? 0)
      : kind === 'number'
        ? (range.high ?? 1)
        : kind === 'text'
          ? ''
          : 1
  const otherwise = kind === 'switch' ? 0 : kind === 'number' ? (range.low ?? 0) : null
  return {
    inputs: [],
    when: null,
    until: null,
    clock: null,
    value,
    otherwise,
    leastOn: 0,
    leastOff: 0,
    mostAnHour: null,
    whenUnknown: otherwise === null ? 'stay' : 'rest',
    safeAfterAway: false,
  }
}

/** What a signal is called in formulas: its first word, as far as that is not taken. */
export function nameInFormulas(signal: Signal, inputs: Rule['inputs']): string {
  const known = inputs.find((input) => input.signal === signal.id)
  if (known) return known.name
  const word =
    signal.name
      .toLowerCase()
      .replaceAll(/[^a-z0-9]+/g, ' ')
      .trim()
      .split(' ')[0] ?? ''
  const base = /^[a-z]/.test(word) ? word.slice(0, 20) : 'signal'
  const isTaken = (name: string) =>
    name === 'x' ||
    functions.has(name) ||
    namedNumbers.has(name) ||
    inputs.some((input) => input.name === name)
  if (!isTaken(base)) return base
  let number = 2
  while (isTaken(`${base}${number}`)) number++
  return `${base}${number}`
}

/** How a signal is compared at first: with its own limit, where it has one, else with what it says now. */
export function firstTerm(signal: Signal, name: string, now: number | undefined): PickedTerm {
  if (signal.kind === 'switch') return { name, is: '==', bound: 1 }
  if (signal.kind === 'choice') return { name, is: '==', bound: signal.choices[0]?.code ?? 0 }
  const { low, high } = signal.limits ?? {}
  if (typeof low === 'number') return { name, is: '<', bound: low }
  if (typeof high === 'number') return { name, is: '>', bound: high }
  return { name, is: '>', bound: now === undefined ? 0 : Number(now.toPrecision(3)) }
}
