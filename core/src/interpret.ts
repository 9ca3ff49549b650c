import type { FieldRecord } from './field.ts'
import { instantOf, judgeValue } from './judge.ts'
import { mapField } from './mapField.ts'
import type { Reading } from './reading.ts'
import type { DeviceSignal, SignalKind } from './signal.ts'

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

/** The signals of the device a record is of, by the field each is read from; or why there is no such device. */
export type SignalsOf = (record: number) => ReadonlyMap<string, DeviceSignal> | { readonly problem: string }

/**
 * The pure middle of the straight way: map → convert → judge.
 * @param receivedAt when the message came in, epoch ms; readings without a time of their own get it
 */
export function interpret(
  records: readonly FieldRecord[],
  signalsOf: SignalsOf,
  receivedAt: number,
): Interpretation {
  const readings: Reading[] = []
  const refused: Refusal[] = []
  const contradiction = records.length > 1 ? contradictions() : () => undefined
  for (const [index, record] of records.entries()) {
    const entry = records.length > 1 ? `/${index}` : ''
    const at = instantOf(record, receivedAt)
    const signals = signalsOf(index)
    for (const field of record.fields) {
      const outcome = 'problem' in signals ? signals : typeof at === 'number' ? mapField(field, signals) : at
      if ('problem' in outcome) refused.push({ field: entry + field.pointer, reason: outcome.problem })
      else if (outcome.target.definition.state !== 'ignored') {
        const { signal, definition } = outcome.target
        const problem = contradiction(signal, at as number, outcome.value)
        if (problem !== undefined) {
          refused.push({ field: entry + field.pointer, reason: problem })
          continue
        }
        const quality = judgeValue(outcome.value, definition)
        readings.push({ signal, at: at as number, receivedAt, value: outcome.value, quality })
      }
    }
  }
  return { readings, refused }
}

/** Watches over a backlog: a signal has one value at one instant, so of two that differ the first one stands. */
function contradictions(): (signal: number, at: number, value: number) => string | undefined {
  const said = new Map<number, Map<number, number>>()
  return (signal, at, value) => {
    const instants = said.get(signal) ?? new Map<number, number>()
    said.set(signal, instants)
    const before = instants.get(at)
    if (before === undefined) instants.set(at, value)
    return before === undefined || before === value
      ? undefined
      : `this message says ${before} for the same instant already; give each record a time of its own`
  }
}
