import { type FieldRecord, quoteRaw } from './field.ts'
import type { SignalsOf } from './interpret.ts'
import { instantOf, judgeValue } from './judge.ts'
import { mapField } from './mapField.ts'
import type { Quality } from './reading.ts'
import type { DeviceSignal } from './signal.ts'

/** What becomes of one field of a message, step by step. */
export interface FieldExplanation {
  /** Which record of a backlog, counted from 0. */
  readonly record: number
  readonly pointer: string
  /** What was sent, as it is quoted to people. */
  readonly raw: string
  readonly target: DeviceSignal | undefined
  /** Either the reading it becomes, or why it becomes none. */
  readonly outcome:
    | { readonly at: number; readonly value: number; readonly quality: Quality }
    | { readonly problem: string }
}

/** Explains a message field by field, by what the device's signals are now; the same steps as `interpret`, told aloud. */
export function explain(
  records: readonly FieldRecord[],
  signalsOf: SignalsOf,
  receivedAt: number,
): FieldExplanation[] {
  return records.flatMap((record, index) => {
    const at = instantOf(record, receivedAt)
    const signals = signalsOf(index)
    const known = 'problem' in signals ? undefined : signals
    return record.fields.map((field) => {
      const mapped = 'problem' in signals ? signals : typeof at === 'number' ? mapField(field, signals) : at
      return {
        record: index,
        pointer: field.pointer,
        raw: quoteRaw(field.value),
        target: known?.get(field.pointer),
        outcome:
          'problem' in mapped
            ? { problem: mapped.problem }
            : {
                at: at as number,
                value: mapped.value,
                quality: judgeValue(mapped.value, mapped.target.definition),
              },
      }
    })
  })
}
