import { type Field, fieldLabel, fieldProblem, tellField } from '../message/field.ts'
import { mostParts } from '../signal/parts.ts'
import type { DeviceSignal } from '../signal/signal.ts'
import type { SignalMap } from '../signal/signalMap.ts'
import { unitSymbol } from '../units/unitSymbol.ts'
import { unitsAgree } from '../units/unitsAgree.ts'
import { type Converted, convert, type Surroundings } from './convert.ts'
import { suggestedKind } from './suggestedKind.ts'

/** What a field is to one signal: a value of it, one that a person chose to ignore, or none, and why. */
export type MappedField =
  | (Converted & { readonly target: DeviceSignal })
  | { readonly ignored: DeviceSignal }
  | { readonly problem: string; readonly target?: DeviceSignal }

/** Finds the value that a field is for a signal that reads it; or why there is none. */
export function mapField(field: Field, target: DeviceSignal, surroundings?: Surroundings): MappedField {
  const { definition } = target
  // What a person chose to ignore is let pass whatever it holds.
  if (definition.state === 'ignored') return { ignored: target }
  if (field.problem !== undefined) return { problem: field.problem, target }
  const { unit, conversion } = definition
  // What is converted was sent in another unit than the signal's.
  if (field.unit !== undefined && unit !== null && conversion === null && !unitsAgree(field.unit, unit)) {
    const problem = `it was sent in ${unitSymbol(field.unit)}, but this signal is in ${unitSymbol(unit)}`
    return { problem, target }
  }
  return { ...convert(field.value, definition, surroundings), target }
}

/** Says why no signal is read from a field. */
export function whyUnknown(field: Field, signals: SignalMap): string {
  const { pointer, problem } = field
  const unnamed = problem ?? fieldProblem(pointer)
  if (unnamed) return unnamed
  const part = signals.newPart(pointer)
  if (part?.isOneTooMany)
    return `this device already has ${mostParts} parts of "${part.definition.name}"; "${part.part}" would be one more`
  const called = `no signal is read from the field "${fieldLabel(tellField(pointer))}"`
  const suggested = suggestedKind(field.value)
  return 'problem' in suggested
    ? `${called}, and none can be suggested: ${suggested.problem}`
    : `${called}, and this device already has as many suggested signals as it may: accept or ignore some first`
}
