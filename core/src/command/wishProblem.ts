import type { Control } from '../signal/control.ts'
import type { SignalDefinition } from '../signal/signal.ts'
import type { SignalValue } from '../signal/value.ts'

type Asked = Pick<SignalDefinition, 'name' | 'kind' | 'origin' | 'range' | 'choices'> & {
  readonly control: Control
}

/** What may be asked of a text, letters. */
const longestText = 200

/** Why a value cannot be asked of a signal at all; undefined where it can. */
export function wishProblem(value: SignalValue, asked: Asked): string | undefined {
  const { name, kind, origin, choices } = asked
  if (origin !== 'controlled') return `${name} is not controlled: it tells, and takes nothing.`
  if (kind === 'text')
    return typeof value === 'string' && value.length <= longestText
      ? undefined
      : `${name} takes a text of at most ${longestText} letters.`
  if (kind === 'position') return `${name} is a position, and cannot be asked for.`
  if (typeof value !== 'number' || !Number.isFinite(value)) return `${name} takes a number.`
  if (kind === 'momentary') return value === 1 ? undefined : `${name} is momentary: it takes 1.`
  if (kind === 'switch')
    return value === 0 || value === 1 ? undefined : `${name} takes 0 for off or 1 for on.`
  if (kind === 'choice')
    return choices.some(({ code }) => code === value)
      ? undefined
      : `${name} takes one of ${choices.map((each) => `${each.code} (${each.name})`).join(', ')}.`
  return numberProblem(value, asked)
}

function numberProblem(
  value: number,
  { name, range: { low, high }, control: { step } }: Asked,
): string | undefined {
  if ((low !== null && value < low) || (high !== null && value > high))
    return `${name} takes ${low === null ? 'numbers' : `from ${low}`}${high === null ? '' : ` up to ${high}`}; ${value} is beyond that.`
  const steps = step === null ? 0 : (value - (low ?? 0)) / step
  // As far as numbers with a binary point can tell.
  return Math.abs(steps - Math.round(steps)) > 1e-6 ? `${name} goes in steps of ${step}.` : undefined
}
