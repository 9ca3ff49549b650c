import { compileFormula } from '../formula/index.ts'
import type { Control } from '../signal/control.ts'
import type { SignalKind } from '../signal/signalKind.ts'
import type { SignalValue } from '../signal/value.ts'

/** What a signal is asked for, and what is known of it and of those around it. */
export interface Circumstances {
  readonly kind: SignalKind
  readonly value: SignalValue
  readonly control: Control
  /** Whether a reading of the last so many seconds had another state than the one it is in. */
  readonly changedWithin: (seconds: number) => boolean
  /** How many commands were sent to it in the last hour. */
  readonly sentInHour: number
  /** What a signal of the same device says now; undefined where it says nothing that can be relied on. */
  readonly saidBy: (named: string) => number | undefined
}

/** Why something must not be done now; undefined where it may. */
export function whyNot(circumstances: Circumstances): string | undefined {
  const { kind, value, control, changedWithin, sentInHour } = circumstances
  if (control.mostAnHour !== null && sentInHour >= control.mostAnHour)
    return `It was asked for ${sentInHour === 1 ? 'once' : `${sentInHour} times`} in the last hour; more often it may not be.`
  const rest = kind !== 'switch' ? 0 : value === 1 ? control.leastOff : control.leastOn
  if (rest > 0 && changedWithin(rest))
    return `It has to stay ${value === 1 ? 'off' : 'on'} for ${inWords(rest)} before it is switched again.`
  for (const interlock of control.unless) {
    const problem = brokenBy(interlock, circumstances)
    if (problem) return problem
  }
  return undefined
}

function brokenBy(
  { says, formula, inputs }: Control['unless'][number],
  { saidBy }: Circumstances,
): string | undefined {
  const compiled = compileFormula(formula)
  if ('problem' in compiled) return `Its condition "${says}" cannot be understood: ${compiled.problem}`
  const known = new Map(inputs.map(({ name, named }) => [name, saidBy(named)]))
  // What nobody knows might be what forbids it.
  for (const { name, named } of inputs)
    if (compiled.constants.includes(name) && known.get(name) === undefined)
      return `Whether ${says} is not known: ${named} says nothing just now.`
  const made = compiled.evaluate({ x: 0, field: () => undefined, constant: (name) => known.get(name) })
  if ('problem' in made) return `Whether ${says} cannot be told: ${made.problem}.`
  return made.value === 0 ? undefined : `Not while ${says}.`
}

const inWords = (seconds: number): string => (seconds % 60 === 0 ? `${seconds / 60} min` : `${seconds} s`)
