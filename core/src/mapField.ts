import { convert } from './convert.ts'
import { type Field, fieldLabel } from './field.ts'
import type { DeviceSignal } from './signal.ts'
import { unitSymbol } from './unit.ts'

/** Finds the signal of a field, and the field's value as that signal's number; or why there is none. */
export function mapField(
  field: Field,
  signals: ReadonlyMap<string, DeviceSignal>,
): { readonly target: DeviceSignal; readonly value: number } | { readonly problem: string } {
  const target = signals.get(field.pointer)
  if (!target) {
    const value = convert(field.value, typeof field.value === 'boolean' ? 'switch' : 'number')
    return typeof value === 'object'
      ? {
          problem: `no signal is read from the field "${fieldLabel(field.pointer)}", and none can be suggested: ${value.problem}`,
        }
      : {
          problem: `no signal is read from the field "${fieldLabel(field.pointer)}", and this device already has as many suggested signals as it may: accept or ignore some first`,
        }
  }
  // What a person chose to ignore is let pass whatever it holds.
  if (target.definition.state === 'ignored') return { target, value: 0 }
  const { kind, unit } = target.definition
  if (field.unit !== undefined && unit !== null && field.unit !== unit) {
    return { problem: `it was sent in ${unitSymbol(field.unit)}, but this signal is in ${unitSymbol(unit)}` }
  }
  const value = convert(field.value, kind)
  return typeof value === 'object' ? value : { target, value }
}
