import { compileFormula } from '../formula/index.ts'
import { between, isUnit } from '../units/index.ts'
import type { Control } from './control.ts'
import type { SignalKind } from './signalKind.ts'

/** Says what in what may be asked of a signal contradicts itself, in words; undefined when nothing does. */
export function controlProblem(
  { step, bare, leastOff, leastOn, unless, shutsDown, setsInterval }: Control,
  kind: SignalKind,
  unit: string | null = null,
): string | undefined {
  if (step !== null && kind !== 'number') return 'Only a number goes in steps.'
  if ((leastOff > 0 || leastOn > 0) && kind !== 'switch') return 'Only a switch stays on or off for a while.'
  if (bare && kind === 'momentary')
    return 'A board that gets the bare value cannot tell whether it is sent again: what is momentary would be done twice.'
  if (shutsDown !== undefined && kind !== 'momentary') return 'Only what is momentary shuts a device down.'
  if (setsInterval && !(kind === 'number' && unit !== null && isUnit(unit) && between(unit, 's')))
    return 'How often a device speaks is a number with a unit of time, such as s or min.'
  for (const { says, formula, inputs } of unless) {
    const compiled = compileFormula(formula)
    if ('problem' in compiled)
      return `In the condition "${says}" at character ${compiled.at + 1}: ${compiled.problem}`
    if (compiled.takesSent || compiled.fields.length > 0)
      return `The condition "${says}" is about what other signals say: it takes neither x nor fields.`
    const unknown = compiled.constants.find((name) => !inputs.some((input) => input.name === name))
    if (unknown !== undefined) return `The condition "${says}" does not say which signal "${unknown}" is.`
  }
  return undefined
}
