import { convert } from './convert.ts'
import { type Field, type FieldRecord, fieldLabel } from './field.ts'
import { parseInstant } from './instant.ts'
import { judgeClock, judgeValue } from './judge.ts'
import type { Reading } from './reading.ts'
import type { DeviceSignal, SignalKind } from './signal.ts'
import { unitSymbol } from './unit.ts'

/** A field that was not stored, and why, in words for whoever wrote the firmware. */
export interface Refusal {
  /** JSON Pointer of the field; with a backlog, the first segment is the record's index. */
  readonly field: string
  readonly reason: string
}

/** What came of a message: the readings to commit, and what was refused. */
export interface Interpretation {
  readonly readings: Reading[]
  readonly refused: Refusal[]
}

/** A field nobody has described yet, and what kind of signal it looks like. */
export interface UnknownField {
  readonly pointer: string
  readonly kind: SignalKind
  /** UCUM code, where the message told. */
  readonly unit: string | null
}

/** Finds the fields that have no signal yet but could become one: numbers and true or false. */
export function unknownFields(
  records: readonly FieldRecord[],
  signals: ReadonlyMap<string, DeviceSignal>,
): UnknownField[] {
  const found = new Map<string, UnknownField>()
  for (const { fields } of records) {
    for (const { pointer, value, unit = null } of fields) {
      if (signals.has(pointer) || found.has(pointer)) continue
      if (typeof value === 'boolean') found.set(pointer, { pointer, kind: 'switch', unit: null })
      else if (typeof value === 'number') found.set(pointer, { pointer, kind: 'number', unit })
    }
  }
  return [...found.values()]
}

/**
 * The pure middle of the straight way: map → convert → judge.
 * @param signals the device's signals by the field they are read from
 * @param receivedAt when the message came in, epoch ms; readings without a time of their own get it
 */
export function interpret(
  records: readonly FieldRecord[],
  signals: ReadonlyMap<string, DeviceSignal>,
  receivedAt: number,
): Interpretation {
  const readings: Reading[] = []
  const refused: Refusal[] = []
  for (const [index, record] of records.entries()) {
    const name = (field: Field): string => (records.length > 1 ? `/${index}${field.pointer}` : field.pointer)
    const at = record.time === undefined ? receivedAt : parseInstant(record.time)
    const clock = typeof at === 'number' ? judgeClock(at, receivedAt) : at.problem
    for (const field of record.fields) {
      const outcome = clock === undefined ? mapField(field, signals) : { problem: clock }
      if ('problem' in outcome) refused.push({ field: name(field), reason: outcome.problem })
      else if (outcome.target.definition.state !== 'ignored') {
        const { signal, definition } = outcome.target
        const quality = judgeValue(outcome.value, definition)
        readings.push({ signal, at: at as number, receivedAt, value: outcome.value, quality })
      }
    }
  }
  return { readings, refused }
}

function mapField(
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
