import { compileFormula } from '../formula/index.ts'
import { pointerSegments } from '../message/field.ts'
import { controlProblem } from './controlProblem.ts'
import { derivationProblem } from './derivationProblem.ts'
import type { Limits } from './limits.ts'
import { fieldOfDerivedParts } from './parts.ts'
import type { Band, SignalDefinition, Span } from './signal.ts'

type Described = Omit<SignalDefinition, 'id' | 'state'>

/** Says what in a signal's description contradicts itself, in words; undefined when nothing does. */
export function definitionProblem(described: Described): string | undefined {
  const { kind, origin, choices, field, range, shown, bands, limits, conversion, storing } = described
  const isNumber = kind === 'number'
  if (kind === 'momentary' && origin !== 'controlled')
    return 'What is momentary can only be triggered, so it has to be controlled.'
  if (kind === 'choice' ? choices.length < 2 : choices.length > 0)
    return kind === 'choice' ? 'A choice needs at least two states.' : 'Only a choice has states.'
  if (new Set(choices.map(({ code }) => code)).size < choices.length) return 'Two states have the same code.'
  if (new Set(choices.map(({ name }) => name.toLowerCase())).size < choices.length)
    return 'Two states have the same name.'
  if (pointerSegments(field).filter((segment) => segment === '{part}').length > 1)
    return 'A field may have one {part}.'
  if (!isNumber && (conversion || limits || bands.length > 0 || described.unit !== null))
    return 'Only a number has a unit, a conversion, bands and limits.'
  if (described.control && origin !== 'controlled')
    return 'Only a controlled signal can be asked for something.'
  const asked = described.control ? controlProblem(described.control, kind, described.unit) : undefined
  if (asked) return asked
  const derivedProblem = originProblem(described)
  if (derivedProblem) return derivedProblem
  const formula = conversion === null ? undefined : compileFormula(conversion)
  if (formula && 'problem' in formula)
    return `In the conversion at character ${formula.at + 1}: ${formula.problem}`
  if (!isNumber && storing.by === 'interval' && storing.of !== 'last')
    return 'Only numbers have a mean, a lowest and a highest: store the last of each interval.'
  return (
    spanProblem('The plausible range', range) ??
    spanProblem('The shown range', shown) ??
    bandProblem(bands) ??
    (limits ? limitProblem(limits) : undefined)
  )
}

function originProblem({ kind, origin, field, derivation, conversion, storing, faults }: Described) {
  if (origin !== 'derived')
    return derivation
      ? 'Only a derived signal follows from others.'
      : field === ''
        ? 'The field that the signal is read from is missing.'
        : undefined
  if (!derivation) return 'A derived signal needs to be told what it follows from.'
  if (kind !== 'number' && kind !== 'switch') return 'A derived signal is a number or a switch.'
  if (field !== '' && field !== fieldOfDerivedParts) return 'A derived signal is read from no field.'
  if (conversion !== null || faults.length > 0 || storing.by !== 'every')
    return 'What a derived signal is made by is its formula alone: it has no conversion, no faults and no rule of storing.'
  return derivationProblem(derivation)
}

const spanProblem = (what: string, { low, high }: Span): string | undefined =>
  low !== null && high !== null && low >= high ? `${what} ends below where it begins.` : undefined

function bandProblem(bands: readonly Band[]): string | undefined {
  for (const [index, { name, from, to }] of bands.entries()) {
    if (from !== null && to !== null && from >= to) return `The band "${name}" ends below where it begins.`
    const next = bands[index + 1]
    if (next && (to === null || next.from === null || next.from < to))
      return `The bands "${name}" and "${next.name}" overlap, or are not in order.`
  }
  return undefined
}

function limitProblem({ lowLow, low, high, highHigh }: Limits): string | undefined {
  const given = [lowLow, low, high, highHigh].filter((limit) => limit !== null)
  return given.some((limit, index) => limit <= (given[index - 1] ?? Number.NEGATIVE_INFINITY))
    ? 'The limits are not in order: low-low, low, high, high-high.'
    : undefined
}
