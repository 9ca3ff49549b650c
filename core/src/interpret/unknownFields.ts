import { type FieldRecord, fieldProblem } from '../message/field.ts'
import { gatherPositions } from '../message/positions.ts'
import type { DeviceSignal } from '../signal/signal.ts'
import type { SignalKind } from '../signal/signalKind.ts'
import type { SignalMap } from '../signal/signalMap.ts'
import { suggestedKind } from './suggestedKind.ts'

/** A field nobody has described yet, and what kind of signal it looks like. */
export interface UnknownField {
  readonly pointer: string
  readonly kind: SignalKind
  /** UCUM code, where the message told. */
  readonly unit: string | null
  /** The definition that was suggested when the field held a text, and that has to be something else. */
  readonly insteadOf?: number
  /** Where a definition stands for like parts, the one of it that the field is of: it needs no describing. */
  readonly part?: { readonly definition: number; readonly name: string }
}

/**
 * Finds the fields that have no signal yet but could become one: numbers, also as text, true or false, texts, places; and what
 * is of a part that nobody has heard of.
 */
export function unknownFields(records: readonly FieldRecord[], signals: SignalMap): UnknownField[] {
  const found = new Map<string, UnknownField>()
  for (const { fields } of records) {
    for (const { pointer, value, unit = null, problem } of gatherPositions(fields, signals)) {
      if (found.has(pointer) || problem !== undefined) continue
      const [reader] = signals.of(pointer)
      if (reader ? !isGuessedText(reader) : fieldProblem(pointer)) continue
      const suggested = suggestedKind(value)
      if ('problem' in suggested) continue
      const { kind } = suggested
      if (reader) {
        if (kind !== 'text') found.set(pointer, { pointer, kind, unit, insteadOf: reader.definition.id })
        continue
      }
      const part = signals.newPart(pointer)
      if (part?.isOneTooMany) continue
      found.set(pointer, {
        pointer,
        kind,
        unit: kind === 'number' ? unit : null,
        ...(part && { part: { definition: part.definition.id, name: part.part } }),
      })
    }
  }
  return [...found.values()]
}

/** A board that says "n/a" first and 21.5 later measures no texts. */
const isGuessedText = ({ definition: { kind, state } }: DeviceSignal): boolean =>
  kind === 'text' && state === 'suggested'
