import { type FieldRecord, quoteRaw, tellField } from '../message/field.ts'
import { eachOutcome, type FieldOutcome, type SignalsOf } from './interpret.ts'
import type { Believed } from './judge.ts'

/** What becomes of one field of a message, as it is told to people. */
export interface FieldExplanation extends Pick<FieldOutcome, 'record' | 'target' | 'outcome'> {
  readonly pointer: string
  /** What was sent, as it is quoted to people. */
  readonly raw: string
}

/** Explains a message field by field, by what the device's signals are now: what `interpret` does, told aloud. */
export function explain(
  records: readonly FieldRecord[],
  signalsOf: SignalsOf,
  receivedAt: number,
  range?: Believed,
): FieldExplanation[] {
  const told: FieldExplanation[] = []
  eachOutcome(records, signalsOf, receivedAt, range, undefined, ({ record, field, target, outcome }) =>
    told.push({ record, target, outcome, pointer: tellField(field.pointer), raw: quoteRaw(field.value) }),
  )
  return told
}
