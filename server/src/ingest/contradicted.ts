import {
  type Believed,
  eachOutcome,
  type FieldOutcome,
  type Refusal,
  type SignalsOf,
} from '@jaunty-sparrow/core/interpret'
import { type FieldRecord, tellField } from '@jaunty-sparrow/core/message'
import { type Reading, type SignalValue, sameValue, tellValue } from '@jaunty-sparrow/core/signal'
import type { StoredOtherwise } from '../readings/written.ts'

/** A message that was read, and what it was read out of. */
interface ReadRecords {
  readonly readings: readonly Reading[]
  readonly records: readonly FieldRecord[]
  readonly signalsOf: SignalsOf
  readonly receivedAt: number
  readonly range: Believed
}

/** Parts readings into those that stand as they were sent, and those for whose instant something else is stored. */
export function contradicted(
  { readings, records, signalsOf, receivedAt, range }: ReadRecords,
  otherwise: readonly StoredOtherwise[],
): { standing: Reading[]; refused: Refusal[] } {
  const stored = new Map(otherwise.map(({ signal, at, value }) => [`${signal} ${at}`, value]))
  const before = (signal: number, at: number, value: SignalValue) => {
    const there = stored.get(`${signal} ${at}`)
    return there === undefined || sameValue(there, value) ? undefined : there
  }
  const standing = readings.filter(({ signal, at, value }) => before(signal, at, value) === undefined)
  const refused: Refusal[] = []
  if (standing.length === readings.length) return { standing, refused }
  const told: FieldOutcome[] = []
  eachOutcome(records, signalsOf, receivedAt, range, undefined, (each) => told.push(each))
  const isBacklog = (told.at(-1)?.record ?? 0) > 0
  for (const { record, field, target, outcome } of told) {
    if (!target || outcome === 'ignored' || 'problem' in outcome) continue
    const there = before(target.signal, outcome.at, outcome.value)
    if (there === undefined) continue
    const when = new Date(outcome.at).toISOString()
    refused.push({
      field: `${isBacklog ? `/${record}` : ''}${tellField(field.pointer)}`,
      reason: `${tellValue(there)} is stored for this instant already (${when}), not ${tellValue(outcome.value)}`,
    })
  }
  return { standing, refused }
}
