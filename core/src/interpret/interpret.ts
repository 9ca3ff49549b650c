import { constantsOf } from '../formula/index.ts'
import { type Field, type FieldRecord, tellField } from '../message/field.ts'
import { gatherPositions } from '../message/positions.ts'
import { fieldOfPart } from '../signal/parts.ts'
import type { QualityBits, Reading } from '../signal/reading.ts'
import type { DeviceSignal } from '../signal/signal.ts'
import type { SignalMap } from '../signal/signalMap.ts'
import { type SignalValue, sameValue, tellValue } from '../signal/value.ts'
import { type Converted, numberIn, type Surroundings } from './convert.ts'
import { type Believed, believed, instantOf, judge, judgeStamp, type Stored } from './judge.ts'
import { mapField, whyUnknown } from './mapField.ts'

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

/** The signals of the device a record is of, by the field each is read from; or why there is no such device. */
export type SignalsOf = (record: number) => SignalMap | { readonly problem: string }

/** What becomes of one field of a message, step by step. */
export interface FieldOutcome {
  /** Which record of a backlog, counted from 0. */
  readonly record: number
  readonly field: Field
  readonly target: DeviceSignal | undefined
  /** The reading it becomes, why it becomes none, or that its signal is ignored. */
  readonly outcome:
    | (Converted & { readonly at: number; readonly quality: QualityBits })
    | { readonly problem: string }
    | 'ignored'
}

/** The reading of a signal that was committed last; undefined where there is none. */
export type LastOf = (signal: number) => Stored | undefined

/**
 * The pure middle of the straight way, told field by field, and signal by signal where several read one: map → convert → judge.
 * @param receivedAt when the message came in, epoch ms; readings without a time of their own get it
 * @param range which times are believed; what is usual when it is left out
 * @param lastOf what a reading is compared with that has none before it in its message
 */
export function eachOutcome(
  records: readonly FieldRecord[],
  signalsOf: SignalsOf,
  receivedAt: number,
  range: Believed = believed(receivedAt),
  lastOf: LastOf | undefined,
  tell: (told: FieldOutcome) => void,
): void {
  const contradiction = records.length > 1 ? contradictions() : () => undefined
  const before = new Map<number, Stored>()
  for (const [record, told] of records.entries()) {
    const at = instantOf(told, receivedAt, range)
    const signals = signalsOf(record)
    if ('problem' in signals) {
      for (const field of told.fields) tell({ record, field, target: undefined, outcome: signals })
      continue
    }
    for (const field of gatherPositions(told.fields, signals)) {
      const targets = signals.of(field.pointer)
      if (targets.length === 0)
        tell({ record, field, target: undefined, outcome: { problem: whyUnknown(field, signals) } })
      for (const target of targets) {
        const mapped = mapField(
          field,
          target,
          target.definition.conversion === null ? undefined : surroundingsOf(told, signals, target),
        )
        if ('ignored' in mapped) tell({ record, field, target, outcome: 'ignored' })
        else if ('problem' in mapped) tell({ record, field, target, outcome: mapped })
        else if (typeof at !== 'number') tell({ record, field, target, outcome: at })
        else {
          const { value, raw } = mapped
          const problem = contradiction(target.signal, at, value)
          if (problem !== undefined) tell({ record, field, target, outcome: { problem } })
          else {
            const previous = before.get(target.signal) ?? lastOf?.(target.signal)
            const quality =
              judge(mapped, at, target.definition, previous) | judgeStamp(told, at, receivedAt, range)
            if (target.definition.greatestRate !== null) before.set(target.signal, { at, value, quality })
            const outcome = raw === undefined ? { at, value, quality } : { at, value, raw, quality }
            tell({ record, field, target, outcome })
          }
        }
      }
    }
  }
}

/** The fields of a record by their pointers, found once: a message may have thousands, and each of its formulas may ask. */
const byPointer = new WeakMap<FieldRecord, ReadonlyMap<string, Field>>()

function fieldIn(record: FieldRecord, pointer: string): Field | undefined {
  let known = byPointer.get(record)
  if (!known) {
    known = new Map(record.fields.map((field) => [field.pointer, field]))
    byPointer.set(record, known)
  }
  return known.get(pointer)
}

/** What stands around a field in its message and device; of a part, {part} in the name of another field means the same part. */
export const surroundingsOf = (
  record: FieldRecord,
  { constants }: SignalMap,
  { part }: DeviceSignal,
): Surroundings => ({
  field: (pointer) => numberIn(fieldIn(record, part === '' ? pointer : fieldOfPart(pointer, part))?.value),
  constant: constantsOf(constants),
})

/** What a message comes to: its readings, and what of it was refused. */
export function interpret(
  records: readonly FieldRecord[],
  signalsOf: SignalsOf,
  receivedAt: number,
  range?: Believed,
  lastOf?: LastOf,
): Interpretation {
  const readings: Reading[] = []
  const refused: Refusal[] = []
  eachOutcome(records, signalsOf, receivedAt, range, lastOf, ({ record, field, target, outcome }) => {
    if (outcome === 'ignored') return
    if ('problem' in outcome) {
      const entry = records.length > 1 ? `/${record}` : ''
      refused.push({ field: entry + tellField(field.pointer), reason: outcome.problem })
    } else if (target) {
      const { at, value, raw, quality } = outcome
      const { signal } = target
      readings.push(
        raw === undefined
          ? { signal, at, receivedAt, value, quality }
          : { signal, at, receivedAt, value, raw, quality },
      )
    }
  })
  return { readings, refused }
}

/** Watches over a backlog: a signal has one value at one instant, so of two that differ the first one stands. */
function contradictions(): (signal: number, at: number, value: SignalValue) => string | undefined {
  const said = new Map<number, Map<number, SignalValue>>()
  return (signal, at, value) => {
    const instants = said.get(signal) ?? new Map<number, SignalValue>()
    said.set(signal, instants)
    const before = instants.get(at)
    if (before === undefined) instants.set(at, value)
    return before === undefined || sameValue(before, value)
      ? undefined
      : `this message says ${tellValue(before)} for the same instant already; give each record a time of its own`
  }
}
